module tank(input [2:0] level, output reg [6:0] bar);
  always @(*)
    case (level)
      3'd0: bar = 7'b0000000;
      3'd1: bar = 7'b1000000;
      3'd2: bar = 7'b1100000;
      3'd3: bar = 7'b1110000;
      3'd4: bar = 7'b1111000;
      3'd5: bar = 7'b1111100;
      3'd6: bar = 7'b1111110;
      default: bar = 7'b1111111;
    endcase
endmodule
