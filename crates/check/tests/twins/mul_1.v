module mul(input [2:0] a, b, output reg [5:0] p, output [2:0] q, m, output lt);
  reg [5:0] table_ [0:63];
  integer i, j;
  initial for (i = 0; i < 8; i = i + 1) for (j = 0; j < 8; j = j + 1) table_[i*8+j] = i*j;
  always @* p = table_[{a,b}];
  assign q = a; assign m = b; assign lt = a < b;
endmodule
