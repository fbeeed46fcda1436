module tank(input [2:0] level, output [6:0] bar);
  assign bar[3:0] = (level >= 4) ? 4'b1111 : ~(4'b1111 << level[1:0]);
  assign bar[6:3] = (level < 4) ? 4'b0000 : (4'b0001 << level[1:0]);
endmodule
