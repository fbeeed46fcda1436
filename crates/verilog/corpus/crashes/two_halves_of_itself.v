module half(input a, b, outlight, output reg heavy);
  half h(.a(w[0]), .a(w[1]), .s(light));  // ERR port-twicle half(input a, b, outlight, output reg heavy);
  half h(.a(w[0]), .a(w[1]), .s(light));  // ERR pore
endmodule
