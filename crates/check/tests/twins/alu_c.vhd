library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity alu is
  port (op : in std_logic_vector(1 downto 0); a, b : in std_logic_vector(2 downto 0);
        r : buffer std_logic_vector(2 downto 0); z : out std_logic);
end entity alu;
architecture rtl of alu is
  type word_array is array (natural range <>) of std_logic_vector(2 downto 0);
  signal results : word_array(0 to 3);
  type pair is record hi : std_logic; lo : unsigned(2 downto 0); end record;
  signal p : pair;
  alias top_bit : std_logic is op(1);
begin
  p.lo <= unsigned(a) + unsigned(b);
  p.hi <= top_bit;
  results(0) <= std_logic_vector(p.lo);
  results(1) <= std_logic_vector(unsigned(a) - unsigned(b));
  results(2) <= a and b;
  results(3) <= (a(2) xor b(2), a(1) xor b(1), a(0) xor b(0));
  r <= results(to_integer(unsigned(op)));
  z <= not (r(2) or r(1) or r(0));
end architecture rtl;
