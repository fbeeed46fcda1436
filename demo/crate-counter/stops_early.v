module crate_counter(input clk, rst, crate, output reg [3:0] count, output full);
  assign full = (count == 11);
  always @(posedge clk)
    if (rst) count <= 0;
    else if (crate) begin
      if (count == 9) count <= 0;
      else count <= count + 1;
    end
endmodule
