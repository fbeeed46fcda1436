module grader(w, light);  // ERR port-without-direction
  input [3:0] w;
endmodule
