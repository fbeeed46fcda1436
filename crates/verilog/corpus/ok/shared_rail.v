module b(inout [3:0] io, input oe, input [3:0] d, output [3:0] q); assign io = oe ? d : 4'bz; assign q = io; endmodule
