use ieee.std_logic_1164.all; -- ERR missing-library
entity m is
  port (a : in std_logic; y : out std_logic);
end entity;
architecture rtl of m is
begin
  y <= a;
end architecture;
