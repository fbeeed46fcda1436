`define BOTH(a, b) ((a) & (b) ^ `BOTH(a, b) ^ `BOTH(b, a) ^ `BOTH(a, a))
`define TWICE(x) `ONCE(x) `ONCE(x) `ONCE(x)
`define ONCE(x) `TWICE(x) `TWICE(x)
module m(input a, b, output y);
  assign y = `BOTH(a, b);
  assign y = `TWICE(`TWICE(a));
endmodule
