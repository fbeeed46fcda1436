`timescale 1ns / 1ps
module grader (w, small, large);
  input  [3:0] w;
  output small, large;
  reg    small;
  wire   [3:0] w;
  always @ (w)
  begin : decide
    small = 1'b0;
    if (w < 4) small = 1'b1;
  end
  assign large = (w > 4'd6) ? 1'b1 : 1'b0;
endmodule
