library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity t is port(a : in std_logic_vector(3 downto 0); y : out std_logic_vector(1 downto 0); s : in std_logic); end; architecture x of t is begin process(all) begin case? a is when "1---" => y <= "11"; when "01--" => y <= "10"; when others => y <= "00"; end case?; if s then y <= "01"; end if; end process; end;
