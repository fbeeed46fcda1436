`timescale 1ns / 1ps
module tb_counter;
 reg clk, rst_n, en; wire [3:0] q; wire tc;
 integer i, errors;
 crate_counter #(.WIDTH(4)) dut(.clk(clk), .rst_n(rst_n), .en(en), .q(q), .tc(tc));
 initial clk = 0;
 always #5 clk = ~clk;
 initial begin
   $dumpfile("tb.vcd"); $dumpvars(0, tb_counter);
   errors = 0; rst_n = 0; en = 0;
   #12 rst_n = 1; en = 1;
   for (i = 0; i < 12; i = i + 1) begin
     @(posedge clk); #1;
     if (q !== ((i+1) % 10)) begin errors = errors + 1; $display("FAIL t=%0t q=%d exp=%0d", $time, q, (i+1)%10); end
   end
   $monitor("%t q=%b tc=%b", $time, q, tc);
   repeat (3) @(negedge clk);
   if (errors == 0) $display("PASS"); else $display("%0d errors", errors);
   $finish;
 end
endmodule
module crate_counter #(parameter WIDTH = 4, parameter MAX = 9)(input wire clk, input wire rst_n, input en, output reg [WIDTH-1:0] q, output wire tc);
  always @(posedge clk or negedge rst_n)
    if (!rst_n) q <= 0;
    else if (en) begin
      if (q == MAX) q <= 0; else q <= q + 1'b1;
    end
  assign tc = (q == MAX) & en;
endmodule
