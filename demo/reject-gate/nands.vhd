library ieee;
use ieee.std_logic_1164.all;

entity reject_gate is
  port (bruised, heavy, ripe : in std_logic; flap : out std_logic);
end entity;

architecture gates of reject_gate is
  signal unripe, sound, keep : std_logic;
begin
  unripe <= ripe nand ripe;
  sound  <= bruised nand bruised;
  keep   <= heavy nand unripe;
  flap <= sound nand keep;
end architecture;
