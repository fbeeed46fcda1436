module grader(input [3:0] w, output small, output reg large);
  assign small = w[3];
  end  // ERR stray-end
endmodule
