-- IEEE 1076-2008 16.2: the argument of 'succ is of the attribute's type.
library ieee; use ieee.std_logic_1164.all;
entity lights is
  port (clk : in std_logic; green : out std_logic);
end lights;
architecture rtl of lights is
  type phase is (stop, go, wait_a_bit);
  signal p : phase;
  signal left : natural range 0 to 3;
begin
  process (clk)
  begin
    if rising_edge(clk) then
      p <= phase'succ(left); -- ERR type-mismatch
      left <= left + 1;
    end if;
  end process;
  green <= '1' when p = go else '0';
end rtl;
