module hopper(input full, gate, run, output motr, output [1:0] stops);
  assign motr = run & ~full & ~gate;
  assign stops = full + gate;
endmodule
