library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity bar_graph is
  port (level : in std_logic_vector(2 downto 0); bar : out std_logic_vector(6 downto 0));
end;
architecture loops of bar_graph is
begin
  p: process (level)
  begin
    bar <= (others => '0');
    for i in bar'range loop
      if to_integer(unsigned(level)) > i then
        bar(i) <= '1';
      end if;
    end loop;
  end process p;
end;
