module washer(input logic clk, rst, a, b, output logic [1:0] y, output logic done);
 typedef enum logic [1:0] {IDLE, RUN=2'd2, DONE} state_t;
 state_t state, next;
 always_ff @(posedge clk) if (rst) state <= IDLE; else state <= next;
 always_comb begin
   next = state; done = 0;
   unique case (state)
     IDLE: if (a) next = RUN;
     RUN: if (b) next = DONE;
     DONE: begin done = 1'b1; next = IDLE; end
     default: next = IDLE;
   endcase
 end
 assign y = state;
endmodule
