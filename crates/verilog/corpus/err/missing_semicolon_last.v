module grader(input [3:0] w, output small, output reg large);
  always @* begin
    large = w[0]           // ERR missing-semicolon
  end
  assign small = 1;
endmodule
