module grader(input [3:0] w, output small, medium, large);
  wire a = w[3], b = w[2];
  assign small = ~a & ~b, large = a;
  assign medium = b & ~a;
endmodule
