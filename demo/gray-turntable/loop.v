module turntable(input [3:0] pos, output [3:0] rim);
  assign rim[3] = pos[3];
  assign rim[2] = pos[2] ^ rim[3];
  assign rim[1] = pos[1] ^ rim[0] ^ pos[2];
  assign rim[0] = pos[0] ^ rim[1] ^ pos[1];
endmodule
