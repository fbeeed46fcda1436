module fa(input a,b,c, output s,co); assign {co,s}=a+b+c; endmodule
module adder(input [3:0] a,b, input cin, output [3:0] s, output cout);
 wire [2:0] k;
 fa f[3:0](a,b,{k,cin},s,{cout,k});
endmodule
