module alu(input [1:0] op, input [2:0] a, input [2:0] b, output [2:0] r, output z);
  localparam ADD=2'b00, SUB=2'b01, AND=2'b10, XOR=2'b11;
  function [2:0] f; input [1:0] op; input [2:0] a, b;
    case (op)
      ADD: f = a + b;
      SUB: f = a + ~b + 1'b1;
      AND: f = a & b;
      XOR: f = a ^ b;
    endcase
  endfunction
  assign r = f(op, a, b);
  assign z = (r == 3'b000) ? 1 : 0;
endmodule
