module hopper(input full, gate, run, output reg motor, output reg [1:0] stops);
  always @(*) begin
    if (run)
      motor = ~full & ~gate;
    stops = full + gate;
  end
endmodule
