module half(input a, b, output s); assign s = a ^ b; endmodule
module grader(input [3:0] w, output light, output reg heavy);
  half h(.a(w[0]), .a(w[1]), .s(light));  // ERR port-twice
endmodule
