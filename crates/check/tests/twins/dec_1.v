module dec(input en, input [2:0] s, output [7:0] y, output v, output [1:0] idx);
  genvar g;
  generate
    for (g=0; g<8; g=g+1) begin
      assign y[g] = en && (s == g);
    end
    case (1)
      1: assign v = s != 0;
      default: assign v = 0;
    endcase
  endgenerate
  assign idx = s[2] ? 2'd2 : s[1] ? 2'd1 : 2'd0;
endmodule
