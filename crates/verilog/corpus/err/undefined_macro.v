`define WIDTH 4
module m(input [`WIDTH-1:0] a, output y);
  assign y = a[`WIDHT-1]; // ERR undefined-macro
endmodule
