module adder(a, b, cin, s, cout);
   parameter SIZE = 4;
   input [SIZE-1:0] a, b; input cin;
   output [SIZE-1:0] s; output cout;
   reg [SIZE-1:0] s; reg cout;
   task add; input [SIZE-1:0] x, y; input c; output [SIZE:0] r; begin r = x + y + c; end endtask
   reg [SIZE:0] tmp;
   always @(a, b, cin)
   begin : main
      add(a, b, cin, tmp);
      s <= tmp[SIZE-1 -: SIZE];
      cout <= tmp[SIZE];
   end
endmodule
