module reject_gate(input bruised, heavy, ripe, output flap);
  wire unripe, sound, keep;
  nand g1(unripe, ripe, ripe);
  nand g2(sound, bruised, bruised);
  nand g3(keep, heavy, ripe);
  nand g4(flap, sound, keep);
endmodule
