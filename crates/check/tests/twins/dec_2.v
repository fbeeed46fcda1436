module dec(input en, input [2:0] s, output reg [7:0] y, output reg v, output reg [1:0] idx);
  always @(*) begin
    casex ({en, s})
      4'b0xxx: y = 8'h00;
      4'b1000: y = 8'h01; 4'b1001: y = 8'h02; 4'b1010: y = 8'h04; 4'b1011: y = 8'h08;
      4'b1100: y = 8'h10; 4'b1101: y = 8'h20; 4'b1110: y = 8'h40; 4'b1111: y = 8'h80;
    endcase
  end
  always @(*) if (s[2]) {v, idx} = 3'b110; else if (s[1]) {v, idx} = 3'b101; else {v, idx} = {s[0], 2'b00};
endmodule
