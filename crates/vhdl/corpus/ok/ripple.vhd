library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity fa is port(a,b,ci : in std_logic; s,co : out std_logic); end; architecture d of fa is begin s <= a xor b xor ci; co <= (a and b) or (ci and (a xor b)); end;
library ieee; use ieee.std_logic_1164.all;
entity rip is generic(N: integer := 4); port(a,b : in std_logic_vector(N-1 downto 0); s : out std_logic_vector(N-1 downto 0); co : out std_logic); end;
architecture g of rip is signal c : std_logic_vector(N downto 0); component fa port(a,b,ci : in std_logic; s,co : out std_logic); end component; begin c(0) <= '0'; l: for i in 0 to N-1 generate u: fa port map(a=>a(i), b=>b(i), ci=>c(i), s=>s(i), co=>c(i+1)); end generate l; co <= c(N); end;
