library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;

entity tank is
  port (level : in std_logic_vector(2 downto 0); bar : out std_logic_vector(6 downto 0));
end entity;

architecture lamps of tank is
begin
  lamp : for i in bar'range generate
    bar(i) <= '1' when unsigned(level) > i else '0';
  end generate;
end architecture;
