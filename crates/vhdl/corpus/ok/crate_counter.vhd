library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity crate_counter is generic (N : positive := 4; MAX : natural := 9);
 port (clk, rst_n, en : in std_logic; q : out std_logic_vector(N-1 downto 0); tc : out std_logic); end entity;
architecture rtl of crate_counter is signal cnt : unsigned(N-1 downto 0);
begin
 process(clk, rst_n) begin
  if rst_n = '0' then cnt <= (others => '0');
  elsif rising_edge(clk) then if en = '1' then if cnt = MAX then cnt <= (others=>'0'); else cnt <= cnt + 1; end if; end if; end if;
 end process;
 q <= std_logic_vector(cnt); tc <= '1' when cnt = MAX and en = '1' else '0';
end rtl;
