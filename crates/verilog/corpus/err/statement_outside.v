module grader(input [3:0] w, output light, output reg heavy);
  light = w[3];  // ERR statement-outside-block
endmodule
