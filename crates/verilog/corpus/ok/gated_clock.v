module m(input clk,en,d, output reg q); wire g = clk & en; always @(negedge g) q <= d; endmodule
