module t #(parameter MODE="FAST")(input a, output y); generate if (MODE=="FAST") assign y=a; else assign y=~a; endgenerate endmodule
