module grader(input [3:0] w, output small, medium, large);
  assign small  = (w <= 4);            // 4 belongs to medium
  assign medium = (w > 4) & (w < 7);
  assign large  = (w >= 7);
endmodule
