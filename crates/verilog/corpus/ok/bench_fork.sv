// Both halves of the crate line are watched at once.
module two_watchers;
  reg left, right;
  int seen[0:3];
  initial begin
    left = 0; right = 0;
    fork : watch
      begin #4 left = 1; #2 left = 0; end
      #3 right = 1;
    join
    foreach (seen[i]) seen[i] = i * 2;
    $timeformat(-9, 1, " ns", 8);
    $display("%t %b%b %0d", $realtime, left, right, seen[3]);
    $finish;
  end
endmodule
