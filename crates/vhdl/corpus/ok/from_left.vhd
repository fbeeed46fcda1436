library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity t is port(a : in std_logic_vector(3 downto 0); b : in std_logic_vector(5 downto 0); y : out boolean); end; architecture x of t is begin y <= a < b; end;
