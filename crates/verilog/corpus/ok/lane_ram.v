module lane_ram(input clk, we, input [3:0] addr, input [7:0] d, output reg [7:0] q);
 reg [7:0] mem [0:15];
 integer k;
 initial for (k=0;k<16;k=k+1) mem[k] = 0;
 always @(posedge clk) begin if (we) mem[addr] <= d; q <= mem[addr]; end
endmodule
