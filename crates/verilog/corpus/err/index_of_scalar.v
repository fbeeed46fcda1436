module grader(input [3:0] w, output small, output reg large);
  assign small = large[0];  // ERR index-of-scalar
endmodule
