module lane_letter(input [2:0] lane, output [6:0] seg);
  wire x = lane[2], y = lane[1], z = lane[0];
  assign seg[6] = x & ~y | x & ~z;
  assign seg[5] = ~x & z | y & ~z;
  assign seg[4] = ~x & z | y;
  assign seg[3] = ~(y ^ z);
  assign seg[2] = 1'b0;
  assign seg[1] = x & ~y & z;
  assign seg[0] = ~y & z | x & y & ~z;
endmodule
