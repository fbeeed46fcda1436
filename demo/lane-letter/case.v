// One line for each lane, segments a to g, lit at 0.
module lane_letter(input [2:0] lane, output reg [6:0] seg);
  always @*
    case (lane)
      3'd0: seg = 7'b0001000; // A
      3'd1: seg = 7'b0110001; // C
      3'd2: seg = 7'b0110000; // E
      3'd3: seg = 7'b0111000; // F
      3'd4: seg = 7'b1001000; // H
      3'd5: seg = 7'b1000011; // J
      3'd6: seg = 7'b1110001; // L
      default: seg = 7'b0011000; // P
    endcase
endmodule
