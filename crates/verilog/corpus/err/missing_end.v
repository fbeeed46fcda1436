module grader(input [3:0] w, output small, output reg large);
  always @* begin  // ERR unclosed
    large = w[0];
  initial large = 0;
endmodule
