library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity v is port(clk, d : in std_logic; q : out std_logic_vector(3 downto 0)); end;
architecture r of v is begin process(clk) variable c : integer range 0 to 9 := 0; variable t : std_logic; begin if rising_edge(clk) then t := d; if t='1' then if c = 9 then c := 0; else c := c + 1; end if; end if; q <= std_logic_vector(to_unsigned(c, 4)); end if; end process; end;
