library ieee;
use ieee.std_logic_1164.all;

entity lane_chaser is
  port (clk, rst : in std_logic; lane : out std_logic_vector(5 downto 0));
end entity;

architecture ring of lane_chaser is
  signal place : natural range 0 to 5;
  signal tick  : natural range 0 to 19;
begin
  process (clk)
  begin
    if rising_edge(clk) then
      if rst = '1' then
        place <= 0;
        tick  <= 0;
      elsif tick = 19 then
        tick <= 0;
        if place = 5 then
          place <= 0;
        else
          place <= place + 1;
        end if;
      else
        tick <= tick + 1;
      end if;
    end if;
  end process;

  process (place)
  begin
    lane        <= (others => '0');
    lane(place) <= '1';
  end process;
end architecture;
