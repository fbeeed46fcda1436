// Hopper interlock, written as equations
module hopper(full, gate, run, motor, stops);
  input full, gate, run;
  output motor;
  output [1:0] stops;

  assign motor = run & ~full & ~gate;
  assign stops = full + gate;
endmodule
