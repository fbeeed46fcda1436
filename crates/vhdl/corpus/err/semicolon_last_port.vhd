library ieee;
use ieee.std_logic_1164.all;
entity m is
  port (a : in std_logic;
        y : out std_logic;); -- ERR separator-after-last-port
end entity;
architecture rtl of m is
begin
  y <= a;
end architecture;
