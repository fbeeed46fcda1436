module lane(input [1:0] at, output [6:0] seg);
  reg [6:0] shapes [0:3];
  always @* begin
    shapes[0] = 7'h3f; shapes[1] = 7'h06; shapes[2] = 7'h5b; shapes[3] = 7'h4f;
  end
  assign seg = shapes[at];
endmodule
