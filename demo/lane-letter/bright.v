// One line for each lane, segments a to g, lit at 1.
module lane_letter(input [2:0] lane, output reg [6:0] seg);
  always @*
    case (lane)
      3'd0: seg = 7'b1110111; // A
      3'd1: seg = 7'b1001110; // C
      3'd2: seg = 7'b1001111; // E
      3'd3: seg = 7'b1000111; // F
      3'd4: seg = 7'b0110111; // H
      3'd5: seg = 7'b0111100; // J
      3'd6: seg = 7'b0001110; // L
      default: seg = 7'b1100111; // P
    endcase
endmodule
