module grader(input [3:0] w, output small, output reg large);
  assign small = ^w[0:3];  // ERR reversed-part
endmodule
