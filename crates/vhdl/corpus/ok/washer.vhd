library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity washer is port (clk, rst, a, b : in std_logic; y : out std_logic_vector(1 downto 0); done : out std_logic); end washer;
architecture beh of washer is type st is (idle, run, fin); signal s, n : st := idle;
begin
 process(clk) begin if clk'event and clk='1' then if rst='1' then s <= idle; else s <= n; end if; end if; end process;
 process(s,a,b) begin n <= s; done <= '0';
  case s is when idle => if a='1' then n <= run; end if; when run => if b = '1' then n <= fin; end if; when fin => done <= '1'; n <= idle; end case; end process;
 with s select y <= "00" when idle, "01" when run, "10" when others;
end;
