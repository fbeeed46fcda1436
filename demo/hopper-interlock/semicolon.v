module hopper(input full, gate, run, output motor, output [1:0] stops);
  wire ok;
  assign ok = ~full & ~gate
  assign motor = run & ok;
  assign stops = full + gate;
endmodule
