library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
library std; use std.textio.all; use std.env.all;
entity tb is end tb;
architecture sim of tb is
 constant T : time := 10 ns;
 signal clk, rst_n, en : std_logic := '0'; signal q : std_logic_vector(3 downto 0); signal tc : std_logic;
 procedure tick(n : in positive) is begin for i in 1 to n loop wait until rising_edge(clk); end loop; end procedure;
begin
 clk <= not clk after T/2;
 dut: entity work.crate_counter generic map (N => 4, MAX => 9) port map (clk=>clk, rst_n=>rst_n, en=>en, q=>q, tc=>tc);
 process variable l : line; variable errs : integer := 0;
 begin
  rst_n <= '0'; en <= '0'; wait for 12 ns; rst_n <= '1'; en <= '1';
  for i in 1 to 12 loop wait until rising_edge(clk); wait for 1 ns;
   assert unsigned(q) = (i mod 10) report "wrong at " & integer'image(i) & " t=" & time'image(now) severity error;
   write(l, string'("q=")); write(l, q); write(l, i); writeline(output, l);
  end loop;
  report "done " & integer'image(errs) & std_logic'image(tc) severity note;
  wait until falling_edge(clk) for 100 ns;
  finish; wait;
 end process;
end sim;
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
