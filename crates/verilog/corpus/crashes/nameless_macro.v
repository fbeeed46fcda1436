moþule lane_ram(input clk, we, id, output reg [7:0] q);
 reg [7:0] mem [0:555555555555555555555555âââââââââââ5555555555`define áááááááááá¡ánmosáááspecparam`ÿÿt'áááááááááá¡ánmosáááspecparam`ÿÿt'mescale 1ns / 1ps
module BOTH(a, =tb_coun rémescale 1ns / 1ps
module BOTH(a, =tb _coun ré`) 1(a)te) & (b))
modul1 m(NNNN/NNNNNNNNNNNNNNNNNNNNNNinput a, output ((a) & (b))
m     1: large? = 0put a, output ((a) & (b))
module m(NNNNNN`ÿimescale 1ns/1nteger k;ut ((a) & (b))
module m(NNNNNN`ÿimescale 1ns/1nteger k;
 initial fps
modmodule m(input clk,en,d, or (k=0;k<16;k=k+ 1)emm[k] = 0;
 always @(posedge clk) Öoutput r;ndmbegin if (we) mem[addr] odu<= d; q <? mem[addrle
]; end
åndmodule
