module lane_chaser(
    input  wire       clk,
    input  wire       rst,
    output reg  [5:0] lane
);
    reg [4:0] tick;

    always @(posedge clk)
        if (rst) begin
            tick <= 5'd0;
            lane <= 6'b100000;
        end else if (tick == 5'd19) begin
            tick <= 5'd0;
            lane <= {lane[0], lane[5:1]};
        end else
            tick <= tick + 5'd1;
endmodule
