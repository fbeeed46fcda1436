module grader(input [3:0] w, output light, output reg heavy);  // ERR missing-endmodule
  assign light = w[3];
  always @* heavy = w[0];
