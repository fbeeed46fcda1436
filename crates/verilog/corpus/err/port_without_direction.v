module grader(w, small);  // ERR port-without-direction
  input [3:0] w;
endmodule
