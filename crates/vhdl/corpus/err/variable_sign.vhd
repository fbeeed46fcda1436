library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity m is
  port (a, b : in std_logic; v : in std_logic_vector(3 downto 0); y : out std_logic; z : out std_logic_vector(3 downto 0));
end entity;
architecture rtl of m is
begin
  process (a)
    variable t : std_logic;
  begin
    t <= a; -- ERR assignment-sign
    y <= t;
  end process;
  z <= v;
end architecture;
