library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;

entity grader is
  port (w : in std_logic_vector(3 downto 0); light, middle, heavy : out std_logic);
end entity;

architecture by_weight of grader is
  signal n : integer range 0 to 15;
begin
  n      <= to_integer(unsigned(w));
  light  <= '1' when n < 4 else '0';
  middle <= '1' when n >= 4 and n <= 6 else '0';
  heavy  <= '1' when n > 6 else '0';
end architecture;
