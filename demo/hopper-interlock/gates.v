// Hopper interlock from gates and a half adder
module half_adder(input a, input b, output s, output c);
  xor (s, a, b);
  and (c, a, b);
endmodule

module hopper(input full, gate, run, output motor, output [1:0] stops);
  wire nfull, ngate;
  not n1(nfull, full), n2(ngate, gate);
  and a1(motor, run, nfull, ngate);
  half_adder h1(.a(full), .b(gate), .s(stops[0]), .c(stops[1]));
endmodule
