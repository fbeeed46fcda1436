module adder #(parameter int WIDTH = 4, localparam int M = WIDTH - 1)
  (input logic [M:0] a, b, input logic cin, output logic [M:0] s, output logic cout);
  logic [WIDTH:0] t;
  always_comb begin
    t = WIDTH'(0) + a;
    t = {1'b0, a} + {1'b0, b} + (WIDTH+1)'(cin);
  end
  assign s = t[M:0], cout = t[WIDTH];
endmodule
