library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
use ieee.math_real.all;
entity l is generic(D : integer := 20); port(a : in std_logic_vector(integer(ceil(log2(real(D))))-1 downto 0); y : out std_logic); end;
architecture a of l is function lg(n : natural) return natural is variable r : natural := 0; variable v : natural := n-1; begin while v > 0 loop v := v/2; r := r+1; end loop; return r; end; constant K : natural := lg(D); signal s : unsigned(K-1 downto 0);
begin s <= unsigned(a); y <= s(K-1); end;
