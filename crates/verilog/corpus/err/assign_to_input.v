module grader(input [3:0] w, output light, output reg heavy);
  assign w[0] = 1;  // ERR assign-to-input
endmodule
