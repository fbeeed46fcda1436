module grader(input [3:0] w, output small, output reg large);
  small = w[3];  // ERR statement-outside-block
endmodule
