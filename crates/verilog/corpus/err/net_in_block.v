module grader(input [3:0] w, output small, output reg large);
  always @* small = w[0];  // ERR assign-to-net-in-block
endmodule
