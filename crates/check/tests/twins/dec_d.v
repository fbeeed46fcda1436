module dec(input en, input [2:0] s, output reg [7:0] y, output v, output reg [1:0] idx);
  assign v = |s;
  always @(*) begin
    y = 8'b0;
    if (en) y[s] = 1'b1;
  end
  always @* casez (s)
    3'b1??: idx = 2;
    3'b01?: idx = 1;
    default: idx = 0;
  endcase
endmodule
