library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity m is
  port (a, b : in std_logic; v : in std_logic_vector(3 downto 0); y : out std_logic; z : out std_logic_vector(3 downto 0));
end entity;
architecture rtl of m is
begin
  y <= a;
  z <= v + v; -- ERR type-mismatch
end architecture;
