library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity alu is
  port (op : in std_logic_vector(1 downto 0);
        a, b : in std_logic_vector(2 downto 0);
        r : out std_logic_vector(2 downto 0);
        z : out std_logic);
end entity alu;
architecture rtl of alu is
  type op_t is (add, sub, band, bxor);
  signal kind : op_t;
  signal res : std_logic_vector(r'range);
  constant zero : std_logic_vector(res'range) := (others => '0');
begin
  kind <= op_t'val(0) when false else add when op = "00" else sub when op = "01" else band when op = "10" else bxor;
  process (kind, a, b)
  begin
    case kind is
      when add => res <= std_logic_vector(unsigned(a) + unsigned(b));
      when sub => res <= std_logic_vector(unsigned(a) - unsigned(b));
      when band => res <= a and b;
      when bxor => res <= a xor b;
    end case;
  end process;
  r <= res;
  z <= '1' when res = zero else '0';
end architecture rtl;
