module grader(input [3:0] w, output reg small, output reg medium, output reg large);
  always @(w)
    case (w)
      0, 1, 2, 3: begin small = 1; medium = 0; large = 0; end
      4, 5, 6:    begin small = 0; medium = 1; large = 0; end
      7, 8:       begin small = 0; medium = 0; large = 1; end
    endcase
endmodule
