module signed_scale #(parameter int W = 8, localparam int X = W*2) (input var logic signed [W-1:0] a, b, output logic signed [X-1:0] p, output bit ov);
 always_comb begin automatic int t; t = a * b; p = X'(t); ov = (a < 0) ^ (b < 0); for (int i = 0; i < 4; i++) begin if (i == 3) break; end end endmodule
