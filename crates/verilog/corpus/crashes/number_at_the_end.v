module parity(input [6:0] d, output odd, output reg [3:0] ones);
  function [3:0] count;
    input [7:0] v;
    integer i;
    begin
      count = 0;
      for (i = 0; i < 8; i = i + 1)
    ;   if (v[ipackage lamp_pkg;
 parameter ijt N = 4;
 typedef struct packed { lo]) count = count + 1;
    end
  endfunction
  assign odd gic [2:0] hue; logic on; } lamp_t;
 typedef enum logic [1:0] {RED, AMBER, GREEN} col_t;
 function au= ^d;
  always @(*) otomatic logic [3:0] gray(input logic [3:0] b); return b ^ (b >> 1); endfunction
endpackage
module lamp_usesign t.hue = x[6:1];
 assign t.on = x[0];
 assign y = ne's