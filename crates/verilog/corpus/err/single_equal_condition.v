module grader(input [3:0] w, output small, output reg large);
  always @* if (w = 3) large = 1; else large = 0;  // ERR assignment-as-equality
endmodule
