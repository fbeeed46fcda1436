`define BOTH(a, b) ((a) & (b))
module m(input a, output y);
  assign y = `BOTH(a); // ERR macro-arguments
endmodule
