module crate_counter(
    input  wire       clk,
    input  wire       rst,
    input  wire       crate,
    output reg  [3:0] count,
    output wire       full
);
    assign full = (count == 4'd11);

    always @(posedge clk)
        if (rst)
            count <= 4'd0;
        else if (crate)
            count <= full ? 4'd0 : count + 4'd1;
endmodule
