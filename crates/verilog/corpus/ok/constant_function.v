module weigher #(parameter DEPTH=20, parameter W = clogb2(DEPTH))(input [7:0] x, output [3:0] ones, output [W-1:0] z);
 function integer clogb2; input integer v; begin v = v-1; for (clogb2=0; v>0; clogb2=clogb2+1) v = v>>1; end endfunction
 function [3:0] count; input [7:0] v; integer k; begin count=0; for(k=0;k<8;k=k+1) count = count + v[k]; end endfunction
 assign ones = count(x); assign z = x;
endmodule
