module beacon_divider(input clk, output reg led);
 reg [25:0] cnt = 0;
 initial led = 0;
 always @(posedge clk) begin
   cnt <= cnt + 1;
   if (cnt == 26'd49_999_999) begin cnt <= 0; led <= ~led; end
 end
endmodule
