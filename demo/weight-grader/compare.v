module grader(input [3:0] w, output light, middle, heavy);
  assign light  = (w < 4);
  assign middle = (w >= 4) && (w <= 6);
  assign heavy  = (w > 6);
endmodule
