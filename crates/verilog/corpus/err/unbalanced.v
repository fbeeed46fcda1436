module grader(input [3:0] w, output light, output reg heavy);
  assign light = (w[3] & (w[2] | w[1]);  // ERR unclosed
endmodule
