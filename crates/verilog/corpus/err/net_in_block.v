module grader(input [3:0] w, output light, output reg heavy);
  always @* light = w[0];  // ERR assign-to-net-in-block
endmodule
