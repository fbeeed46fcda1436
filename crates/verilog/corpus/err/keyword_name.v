module grader(input [3:0] w, output small, output reg large);
  wire nand;  // ERR keyword-as-name
endmodule
