module adder(a, b, cin, s, cout);
  input [3:0] a, b;
  input cin;
  output reg [3:0] s;
  output reg cout;
  integer k;
  reg c;
  always @(a or b or cin) begin
    c = cin;
    for (k = 0; k < 4; k = k + 1) begin
      s[k] = a[k] ^ b[k] ^ c;
      c = (a[k] & b[k]) | (a[k] & c) | (b[k] & c);
    end
    cout = c;
  end
endmodule
