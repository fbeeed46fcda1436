library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity m is
  port (a, b : in std_logic; v : in std_logic_vector(3 downto 0); y : out std_logic; z : out std_logic_vector(3 downto 0));
end entity;
architecture rtl of m is
  component buf1 is port (i : in std_logic; o : out std_logic); end component;
begin
  u1: buf1 port map (i => a, q => y); -- ERR unknown-port
  z <= v;
end architecture;
library ieee;
use ieee.std_logic_1164.all;
entity buf1 is port (i : in std_logic; o : out std_logic); end entity;
architecture x of buf1 is begin o <= i; end architecture;
