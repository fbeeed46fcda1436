module tb2; reg clk=0; always #1 clk=~clk; sub s(clk); initial begin #10 $display("%0d", s.c); s.c = 7; #2 $display("%0d %0d", s.c, tb2.s.c); $finish; end endmodule
module sub(input clk); reg [3:0] c = 0; always @(posedge clk) c <= c+1; endmodule
