library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity m is
  port (a, b : in std_logic; v : in std_logic_vector(3 downto 0); y : out std_logic; z : out std_logic_vector(3 downto 0));
end entity;
architecture rtl of m is
begin
  y <= '1' when a = 1 else '0'; -- ERR type-mismatch
  z <= v;
end architecture;
