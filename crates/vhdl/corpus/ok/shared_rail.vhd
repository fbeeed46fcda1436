library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity t is port(d : inout std_logic_vector(3 downto 0); oe : in std_logic; x : in std_logic_vector(3 downto 0); q : buffer std_logic_vector(3 downto 0)); end; architecture x of t is begin d <= x when oe='1' else (others => 'Z'); q <= d; end;
