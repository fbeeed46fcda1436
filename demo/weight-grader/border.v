module grader(input [3:0] w, output light, middle, heavy);
  assign light  = (w <= 4);            // 4 belongs to middle
  assign middle = (w > 4) & (w < 7);
  assign heavy  = (w >= 7);
endmodule
