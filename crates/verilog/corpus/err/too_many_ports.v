module half(input a, b, output s); assign s = a ^ b; endmodule
module grader(input [3:0] w, output small, output reg large);
  half h(w[0], w[1], small, w[2]);  // ERR too-many-connections
endmodule
