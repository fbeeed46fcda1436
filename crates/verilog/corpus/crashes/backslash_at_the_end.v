module m;
 initial $display("a\