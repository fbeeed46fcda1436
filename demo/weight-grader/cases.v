module grader(input [3:0] w, output reg light, output reg middle, output reg heavy);
  always @(*)
    case (w)
      0, 1, 2, 3: {light, middle, heavy} = 3'b100;
      4, 5, 6:    {light, middle, heavy} = 3'b010;
      7, 8, 9:    {light, middle, heavy} = 3'b001;
      default:    {light, middle, heavy} = 3'bxxx;
    endcase
endmodule
