`timescale 1ns/1ps
module dec_tb;
  reg en; reg [2:0] s; wire [7:0] y; wire v; wire [1:0] idx;
  dec dut(.en(en), .s(s), .y(y), .v(v), .idx(idx));
  initial begin
    $dumpfile("dec.vcd"); $dumpvars(0, dec_tb);
    for (s = 0; s < 7; s = s + 1) begin en = 1; #10 $display("%b %b", s, y); end
    $finish;
  end
endmodule
module dec(input en, input [2:0] s, output [7:0] y, output v, output [1:0] idx);
  wire [2:0] n;
  not n0(n[0], s[0]), n1(n[1], s[1]), n2(n[2], s[2]);
  and (y[0], en, n[2], n[1], n[0]); and (y[1], en, n[2], n[1], s[0]); and (y[2], en, n[2], s[1], n[0]); and (y[3], en, n[2], s[1], s[0]);
  and (y[4], en, s[2], n[1], n[0]); and (y[5], en, s[2], n[1], s[0]); and (y[6], en, s[2], s[1], n[0]); and (y[7], en, s[2], s[1], s[0]);
  or #(2) (v, s[0], s[1], s[2]);
  assign #1 idx[1] = s[2];
  and (idx[0], n[2], s[1]);
endmodule
