module parity(input [7:0] d, output odd, output reg [3:0] ones);
  function [3:0] count;
    input [7:0] v;
    integer i;
    begin
      count = 0;
      for (i = 0; i < 8; i = i + 1)
        if (v[i]) count = count + 1;
    end
  endfunction
  assign odd = ^d;
  always @(*) ones = count(d);
endmodule
