module tank(input [2:0] level, output [6:0] bar);
  assign bar = ~(7'b1111111 << level);
endmodule
