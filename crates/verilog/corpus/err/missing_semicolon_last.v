module grader(input [3:0] w, output light, output reg heavy);
  always @* begin
    heavy = w[0]           // ERR missing-semicolon
  end
  assign light = 1;
endmodule
