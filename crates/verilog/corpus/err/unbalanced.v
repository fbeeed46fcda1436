module grader(input [3:0] w, output small, output reg large);
  assign small = (w[3] & (w[2] | w[1]);  // ERR unclosed
endmodule
