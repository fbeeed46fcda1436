module grader(input [3:0] w, output light, output middle, output heavy);
  wire a = w[3], b = w[2], c = w[1], d = w[0];
  assign light  = ~a & ~b;
  assign middle = (b & ~c) | (b & ~d);
  assign heavy  = a | (b & c & d);
endmodule
