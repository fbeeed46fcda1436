package lamp_pkg;
 parameter int N = 4;
 typedef struct packed { logic [2:0] hue; logic on; } lamp_t;
 typedef enum logic [1:0] {RED, AMBER, GREEN} col_t;
 function automatic logic [3:0] gray(input logic [3:0] b); return b ^ (b >> 1); endfunction
endpackage
module lamp_user import lamp_pkg::*; (input logic [3:0] x, output lamp_t y, output col_t c);
 lamp_t t;
 assign t.hue = x[3:1];
 assign t.on = x[0];
 assign y = '{hue: t.hue, on: ~t.on};
 assign c = col_t'(x[1:0] == 2'd3 ? lamp_pkg::RED : AMBER);
endmodule
