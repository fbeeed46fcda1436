module grader(input [3:0] w, output small, output reg large);
  assign small = w == 4'b1021;  // ERR wrong-digit
endmodule
