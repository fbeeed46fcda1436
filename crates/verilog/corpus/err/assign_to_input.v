module grader(input [3:0] w, output small, output reg large);
  assign w[0] = 1;  // ERR assign-to-input
endmodule
