library ieee;
use ieee.std_logic_1164.all;

entity lane_letter is
  port (lane : in std_logic_vector(2 downto 0); seg : out std_logic_vector(6 downto 0));
end entity;

architecture table of lane_letter is
begin
  with lane select seg <=
    "0001000" when "000",  -- A
    "0110001" when "001",  -- C
    "0110000" when "010",  -- E
    "0111000" when "011",  -- F
    "1001000" when "100",  -- H
    "1000011" when "101",  -- J
    "1110001" when "110",  -- L
    "0011000" when others; -- P
end architecture;
