module grader(input [3:0] w, output light, output reg heavy);
  assign light = w == 4'b1021;  // ERR wrong-digit
endmodule
