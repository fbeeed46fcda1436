`timescale 1ns/1ps
module crate_counter #(parameter WIDTH = 4, parameter MAX = 9)(input wire clk, input wire rst_n, input en, output reg [WIDTH-1:0] q, output wire tc);
  always @(posedge clk or negedge rst_n)
    if (!rst_n) q <= 0;
    else if (en) begin
      if (q == MAX) q <= 0; else q <= q + 1'b1;
    end
  assign tc = (q == MAX) & en;
endmodule
