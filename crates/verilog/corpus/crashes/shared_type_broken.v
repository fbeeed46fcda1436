`define BOTH(a, b)ÿÿÿÿÿÿÿÿÿÿÿÿÿÿ } lamp_t;
 typedef enum logic [1aa logic [3:0] b); return b ^ (b >> 1); endfunction
endpackage
module laBOTH(a); // ERR macro-arguments
endmodule
