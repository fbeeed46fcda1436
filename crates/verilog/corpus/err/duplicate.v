module grader(input [3:0] w, output light, output reg heavy);
  wire x;
  wire x;  // ERR duplicate-declaration
endmodule
