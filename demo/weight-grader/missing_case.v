module grader(input [3:0] w, output reg light, output reg middle, output reg heavy);
  always @(w)
    case (w)
      0, 1, 2, 3: begin light = 1; middle = 0; heavy = 0; end
      4, 5, 6:    begin light = 0; middle = 1; heavy = 0; end
      7, 8:       begin light = 0; middle = 0; heavy = 1; end
    endcase
endmodule
