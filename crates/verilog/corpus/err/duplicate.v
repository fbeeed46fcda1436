module grader(input [3:0] w, output small, output reg large);
  wire x;
  wire x;  // ERR duplicate-declaration
endmodule
