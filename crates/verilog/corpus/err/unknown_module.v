module grader(input [3:0] w, output small, output reg large);
  scale s1(.w(w));  // ERR unknown-module
endmodule
