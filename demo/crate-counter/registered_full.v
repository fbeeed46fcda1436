module crate_counter(input clk, rst, crate, output reg [3:0] count, output reg full);
  always @(posedge clk)
    if (rst) begin
      count <= 0;
      full <= 0;
    end else begin
      if (crate) count <= (count == 11) ? 0 : count + 1;
      full <= (count == 11);
    end
endmodule
