library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;

entity crate_counter is
    port (
        clk, rst, crate : in  std_logic;
        count           : out std_logic_vector(3 downto 0);
        full            : out std_logic
    );
end entity;

architecture rtl of crate_counter is
    signal n : unsigned(3 downto 0);
begin
    process (clk)
    begin
        if rising_edge(clk) then
            if rst = '1' then
                n <= (others => '0');
            elsif crate = '1' then
                if n = 11 then
                    n <= (others => '0');
                else
                    n <= n + 1;
                end if;
            end if;
        end if;
    end process;
    count <= std_logic_vector(n);
    full  <= '1' when n = 11 else '0';
end architecture;
