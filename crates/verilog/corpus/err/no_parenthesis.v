module grader(input [3:0] w, output light, output reg heavy);
  always @* if w[0] heavy = 1;  // ERR unexpected
endmodule
