library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity lane_ram is port(clk, we : in std_logic; a : in std_logic_vector(3 downto 0); d : in std_logic_vector(7 downto 0); q : out std_logic_vector(7 downto 0)); end;
architecture r of lane_ram is type mem_t is array (0 to 15) of std_logic_vector(7 downto 0); signal mem : mem_t := (others => (others => '0'));
begin process(clk) begin if rising_edge(clk) then if we='1' then mem(to_integer(unsigned(a))) <= d; end if; q <= mem(to_integer(unsigned(a))); end if; end process; end;
