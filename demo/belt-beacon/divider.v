// Toggles at the end of each half period.
module belt_beacon(
    input  wire clk,
    output reg  beacon
);
    reg [20:0] count;

    initial begin
        count  = 0;
        beacon = 0;
    end

    always @(posedge clk)
        if (count == 21'd1499999) begin
            count  <= 0;
            beacon <= ~beacon;
        end else
            count <= count + 1;
endmodule
