library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity t is end; architecture x of t is signal c, r : std_logic; begin r <= '1', '0' after 20 ns, '1' after 50 ns; process begin c <= '0'; wait for 5 ns; c <= '1'; wait for 5 ns; if now > 100 ns then wait; end if; end process; end;
