library ieee;
use ieee.std_logic_1164.all;
entity m is
  port (a : in std_logik; y : out std_logic); -- ERR unknown-type
end entity;
architecture x of m is begin y <= '0'; end architecture;
