`define W 4
`ifndef FOO
`define ADD(x,y) ((x)+(y))
`endif
module adder (
    input  wire [`W-1:0] a,   // first
    input  wire [`W-1:0] b,
    input  wire          cin,
    output wire [`W-1:0] s,
    output wire          cout
);
  assign {cout, s} = `ADD(a, b) + cin;
endmodule
