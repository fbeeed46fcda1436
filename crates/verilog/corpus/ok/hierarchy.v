module bit_adder #(parameter INVERT = 0) (input a, b, cin, output s, cout);
  assign {cout, s} = INVERT ? a - b - cin : a + b + cin;
endmodule
module adder #(parameter N = 4) (input [N-1:0] x, y, output [N:0] sum);
  wire [N:0] c;
  assign c[0] = 1'b0;
  genvar i;
  generate
    for (i = 0; i < N; i = i + 1) begin : stage
      bit_adder #(.INVERT(0)) u (.a(x[i]), .b(y[i]), .cin(c[i]), .s(sum[i]), .cout(c[i+1]));
    end
  endgenerate
  assign sum[N] = c[N];
endmodule
