module reject_gate(input bruised, heavy, ripe, output flap);
  assign flap = bruised | heavy & ~ripe;
endmodule
