library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity t is port(i, j : in std_logic_vector(1 downto 0); y : out std_logic; z : out std_logic_vector(3 downto 0)); end;
architecture a of t is type m2 is array(0 to 3, 0 to 3) of std_logic; constant m : m2 := (('0','1','0','1'),('1','1','0','0'),('0','0','0','1'),('1','0','0','1')); type v2 is array (natural range <>) of std_logic_vector(3 downto 0); constant r : v2(0 to 3) := ("0001", "0010", "0100", "1000"); begin y <= m(to_integer(unsigned(i)), to_integer(unsigned(j))); z <= r(to_integer(unsigned(j))); end;
