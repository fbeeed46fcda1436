module turntable(input [3:0] pos, output [3:0] rim);
  assign rim = pos ^ (pos >> 1);
endmodule
