module turntable #(parameter N = 4)(input [N-1:0] pos, output [N-1:0] rim);
  assign rim[N-1] = pos[N-1];
  genvar k;
  generate
    for (k = 0; k < N-1; k = k + 1) begin : bits
      xor x(rim[k], pos[k+1], pos[k]);
    end
  endgenerate
endmodule
