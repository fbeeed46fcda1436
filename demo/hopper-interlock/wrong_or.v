module hopper(input full, gate, run, output motor, output [1:0] stops);
  wire blocked;
  assign blocked = full & gate;      // stops only when both are present
  assign motor = run & ~blocked;
  assign stops[1] = full & gate;
  assign stops[0] = full ^ gate;
endmodule
