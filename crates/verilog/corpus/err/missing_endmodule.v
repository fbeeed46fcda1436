module grader(input [3:0] w, output small, output reg large);  // ERR missing-endmodule
  assign small = w[3];
  always @* large = w[0];
