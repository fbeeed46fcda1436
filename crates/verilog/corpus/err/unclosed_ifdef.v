`ifdef FAST // ERR unclosed
module m(input a, output y);
  assign y = a;
endmodule
