module half(input a, b, output s); assign s = a ^ b; endmodule
module grader(input [3:0] w, output small, output reg large);
  half h(.a(w[0]), .b(w[1]), .sum(small));  // ERR unknown-port
endmodule
