module mul(input [2:0] a, b, output [5:0] p, output [2:0] q, m, output lt);
  function [5:0] times(input [2:0] x, y);
    integer i;
    begin
      times = 0;
      for (i = 0; i < 3; i = i + 1)
        if (y[i]) times = times + ({3'b0, x} << i);
    end
  endfunction
  assign p = times(a, b);
  assign {q, m} = {a, b};
  assign lt = ($signed({1'b0, a}) < $signed({1'b0, b})) ? 1'b1 : 1'b0;
endmodule
