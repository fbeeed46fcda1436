module grader(input [3:0] w, output light, output reg heavy);
  assign light = 1;  /* a comment without an end  // ERR unclosed-comment
endmodule
