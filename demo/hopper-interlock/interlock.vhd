library IEEE;
use IEEE.std_logic_1164.all;
use ieee.numeric_std.all;
entity hopper is
  port ( Full, Gate, Run : in std_logic;
         motor : out std_logic;
         stops : out std_logic_vector(1 downto 0) );
end hopper;
architecture rtl of hopper is
begin
  motor <= run and not full and not gate;
  stops <= std_logic_vector(resize(unsigned'("" & full), 2) + unsigned'("" & gate));
end rtl;
