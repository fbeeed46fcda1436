library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity mul is port (a, b : in unsigned(2 downto 0); p : out unsigned(5 downto 0); q, m : out std_logic_vector(2 downto 0); lt : out boolean); end;
architecture rtl of mul is begin
  p <= a * b;
  q <= std_logic_vector(a srl 0);
  m <= std_logic_vector(rotate_left(rotate_right(b, 1), 1));
  lt <= a < b;
end rtl;
