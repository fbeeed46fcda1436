module belt_beacon(input clk, output reg beacon);
  reg [20:0] n;
  always @(posedge clk)
    if (n == 1499999) begin
      n <= 0;
      beacon <= ~beacon;
    end else
      n <= n + 1;
endmodule
