module bin_grid(input logic [1:0][3:0] a, input logic i, output logic [3:0] y, output logic [7:0] z, output logic b);
 logic [3:0] t [2][2];
 always_comb begin
   t = '{'{4'd1, 4'd2}, '{4'd3, a[0]}};
   y = a[i];
   z = {t[1][0], t[i][1]};
   b = a[i][2] ^ a[1][i];
 end
endmodule
