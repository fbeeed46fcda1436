module grader(input [3:0] w, output light, output reg heavy);
  assign light = heavy[0];  // ERR index-of-scalar
endmodule
