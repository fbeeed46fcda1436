module grader(input [3:0] w, output light, output reg heavy);
  always @* if (w = 3) heavy = 1; else heavy = 0;  // ERR assignment-as-equality
endmodule
