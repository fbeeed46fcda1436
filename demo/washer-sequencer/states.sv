module washer_sequencer(
    input  logic clk, rst_n, start, high, low,
    output logic valve, brush, drain
);
    typedef enum logic [1:0] {IDLE, FILL, WASH, EMPTY} state_t;
    state_t state, next;

    always_ff @(posedge clk or negedge rst_n)
        if (!rst_n) state <= IDLE;
        else        state <= next;

    always_comb begin
        next = state;
        unique case (state)
            IDLE:  if (start)  next = FILL;
            FILL:  if (high)   next = WASH;
            WASH:  if (!start) next = EMPTY;
            EMPTY: if (low)    next = IDLE;
        endcase
    end

    assign valve = (state == FILL);
    assign brush = (state == WASH);
    assign drain = (state == EMPTY);
endmodule
