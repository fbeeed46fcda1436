module tank(input [2:0] level, output reg [6:0] bar);
  integer i;
  always @(*)
    for (i = 0; i < 7; i = i + 1)
      bar[i] = (level > i);
endmodule
