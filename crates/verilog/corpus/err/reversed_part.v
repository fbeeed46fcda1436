module grader(input [3:0] w, output light, output reg heavy);
  assign light = ^w[0:3];  // ERR reversed-part
endmodule
