module grader(input [3:0] w, output small, output medium, output large);
  wire a = w[3], b = w[2], c = w[1], d = w[0];
  assign small  = ~a & ~b;
  assign medium = (b & ~c) | (b & ~d);
  assign large  = a | (b & c & d);
endmodule
