module belt_beacon(input clk, output reg beacon = 0);
  reg [20:0] n = 0;
  always @(posedge clk)
    if (n == 1500000) begin   // counts 1,500,001 values
      n <= 0;
      beacon <= ~beacon;
    end else
      n <= n + 1;
endmodule
