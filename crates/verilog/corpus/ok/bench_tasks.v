module tb; reg [3:0] a,b; wire [4:0] s; event go;
 assign s = a+b;
 task check(input [4:0] want); begin if (s !== want) $display("bad %0d+%0d=%0d want %0d", a,b,s,want); else $display("ok %h", s); end endtask
 initial begin a=1;b=2;#1 check(3); a=15;b=15;#1 check(5'd30); -> go; a = #3 4; #1 $display("%m a=%0d t=%0d", a, $time); $stop; end
 always @(go) $display("went at %0t", $realtime);
 initial fork_free; task fork_free; #100 $finish; endtask
endmodule
