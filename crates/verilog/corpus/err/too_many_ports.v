module half(input a, b, output s); assign s = a ^ b; endmodule
module grader(input [3:0] w, output light, output reg heavy);
  half h(w[0], w[1], light, w[2]);  // ERR too-many-connections
endmodule
