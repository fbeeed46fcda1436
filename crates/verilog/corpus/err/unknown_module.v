module grader(input [3:0] w, output light, output reg heavy);
  scale s1(.w(w));  // ERR unknown-module
endmodule
