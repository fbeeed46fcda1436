library ieee;
use ieee.std_logic_1164.all;
entity m is
  port (a : in std_logic_vector(3 downto 0); y : out std_logic_vector(3 downto 0));
end entity;
architecture rtl of m is
begin
  y <= std_logic_vector(unsigned(a) + 1); -- ERR missing-use-clause
end architecture;
