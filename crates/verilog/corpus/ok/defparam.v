module t(input [7:0] a, output [7:0] y); p u1(.a(a),.y(y)); defparam u1.K = 3; endmodule
module p #(parameter K=1)(input [7:0] a, output [7:0] y); assign y = a << K; endmodule
