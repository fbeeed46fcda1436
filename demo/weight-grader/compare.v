module grader(input [3:0] w, output small, medium, large);
  assign small  = (w < 4);
  assign medium = (w >= 4) && (w <= 6);
  assign large  = (w > 6);
endmodule
