module grader(input [3:0] w, output light, output reg heavy);
  assign heavy = w[0];  // ERR assign-to-variable
endmodule
