library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity lane_letter is
  port (lane : in std_logic_vector(2 downto 0); seg : out std_logic_vector(6 downto 0));
end entity;
architecture rom of lane_letter is
  type rom_t is array (0 to 7) of std_logic_vector(6 downto 0);
  constant letters : rom_t := (
    "0001000", "0110001", "0110000", "0111000",
    5 => "1000011", 6 => "1110001", others => "1001000");
begin
  seg <= "0011000" when lane = "111" else letters(to_integer(unsigned(lane)));
end architecture;
