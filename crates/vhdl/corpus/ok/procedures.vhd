library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity t is port(a : in std_logic_vector(3 downto 0); y : out std_logic_vector(3 downto 0); e : out boolean); end; architecture x of t is procedure swap(signal i : in std_logic_vector; signal o : out std_logic_vector) is begin for k in 0 to 3 loop o(k) <= i(3-k); end loop; end; function "+"(l, r : std_logic_vector) return std_logic_vector is begin return std_logic_vector(unsigned(l) + unsigned(r)); end; begin swap(a, y); e <= (a + a) = "0000"; end;
