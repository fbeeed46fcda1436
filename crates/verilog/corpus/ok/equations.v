module grader(input [3:0] w, output light, middle, heavy);
  wire a = w[3], b = w[2];
  assign light = ~a & ~b, heavy = a;
  assign middle = b & ~a;
endmodule
