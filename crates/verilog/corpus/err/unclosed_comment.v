module grader(input [3:0] w, output small, output reg large);
  assign small = 1;  /* a comment without an end  // ERR unclosed-comment
endmodule
