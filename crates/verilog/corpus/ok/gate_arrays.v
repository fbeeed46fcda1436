module gate_arrays(input [3:0] a, output [3:0] y, output [3:0] z); not n[3:0](y, a); buf1 u[3:0](.i(a), .o(z)); endmodule
module buf1(input i, output o); assign o = i; endmodule
