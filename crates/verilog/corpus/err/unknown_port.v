module half(input a, b, output s); assign s = a ^ b; endmodule
module grader(input [3:0] w, output light, output reg heavy);
  half h(.a(w[0]), .b(w[1]), .sum(light));  // ERR unknown-port
endmodule
