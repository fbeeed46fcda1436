module grader(input [3:0] w, output light, output reg heavy);
  wire nand;  // ERR keyword-as-name
endmodule
