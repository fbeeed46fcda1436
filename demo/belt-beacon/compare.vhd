library ieee;
use ieee.std_logic_1164.all;

entity belt_beacon is
    port (clk : in std_logic; beacon : out std_logic);
end entity;

architecture rtl of belt_beacon is
    constant PERIOD : natural := 3_000_000;
    signal count : natural range 0 to PERIOD - 1 := 0;
begin
    process (clk)
    begin
        if rising_edge(clk) then
            if count = PERIOD - 1 then
                count <= 0;
            else
                count <= count + 1;
            end if;
        end if;
    end process;
    beacon <= '1' when count < PERIOD / 2 else '0';
end architecture;
