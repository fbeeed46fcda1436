library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity t is port(a : in std_logic_vector(7 downto 0); y : out std_logic_vector(7 downto 0)); end;
architecture a of t is type color is (red, green, blue); constant c : color := color'left; alias hi : std_logic_vector(3 downto 0) is a(7 downto 4); attribute keep : string; attribute keep of a : signal is "true";
begin y(3 downto 0) <= hi; y(7 downto 4) <= "1010" when color'pos(blue) = 2 and a'length = 8 and a'left = 7 else (others=>'0'); end;
