module grader(input [3:0] w, output small, output reg large);
  assign large = w[0];  // ERR assign-to-variable
endmodule
