module m(input a, output y);
  assign y = a;
`endif // ERR stray-directive
endmodule
