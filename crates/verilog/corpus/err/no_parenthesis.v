module grader(input [3:0] w, output small, output reg large);
  always @* if w[0] large = 1;  // ERR unexpected
endmodule
