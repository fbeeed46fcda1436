typedef enum logic [1:0] {ADD, SUB, MASK, FLIP} op_t;
typedef logic [2:0] word_t;
module alu(input op_t op, input word_t a, b, output logic [2:0] r, output logic z);
  word_t s;
  always_comb begin
    unique case (op)
      ADD: s = a + b;
      SUB: s = a - b;
      MASK: s = a & b;
      default: s = a ^ b;
    endcase
  end
  assign r = s;
  assign z = ~|r;
endmodule
