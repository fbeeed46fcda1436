module grader(input [3:0] w, output reg small, output reg medium, output reg large);
  always @(*)
    case (w)
      0, 1, 2, 3: {small, medium, large} = 3'b100;
      4, 5, 6:    {small, medium, large} = 3'b010;
      7, 8, 9:    {small, medium, large} = 3'b001;
      default:    {small, medium, large} = 3'bxxx;
    endcase
endmodule
