module grader(input [3:0] w, output light, output reg heavy);
  assign light == w[3];  // ERR equality-as-assignment
endmodule
