module grader(input [3:0] w, output light, output reg heavy);
  always @* begin  // ERR unclosed
    heavy = w[0];
  initial heavy = 0;
endmodule
