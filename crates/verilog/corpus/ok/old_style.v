`timescale 1ns / 1ps
module grader (w, light, heavy);
  input  [3:0] w;
  output light, heavy;
  reg    light;
  wire   [3:0] w;
  always @ (w)
  begin : decide
    light = 1'b0;
    if (w < 4) light = 1'b1;
  end
  assign heavy = (w > 4'd6) ? 1'b1 : 1'b0;
endmodule
