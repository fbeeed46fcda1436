module crate_counter(input clk, rst, crate, output reg [3:0] count, output full);
  assign full = (count == 11);
  always @(negedge clk)
    if (rst) count <= 0;
    else if (crate) count <= full ? 0 : count + 1;
endmodule
