`timescale 1ns / 1ps
module full_adder(x, y, ci, s, co);
  input x, y, ci;
  output s, co;
  wire p, g, t;
  xor x1(p, x, y), x2(s, p, ci);
  and a1(g, x, y), a2(t, p, ci);
  or  o1(co, g, t);
endmodule
module adder #(parameter N = 4) (input [N-1:0] a, b, input cin, output [N-1:0] s, output cout);
  wire [N:0] c;
  assign c[0] = cin;
  assign cout = c[N];
  genvar i;
  generate
    for (i = 0; i < N; i = i + 1) begin : stage
      full_adder fa(.x(a[i]), .y(b[i]), .ci(c[i]), .s(s[i]), .co(c[i+1]));
    end
  endgenerate
endmodule
