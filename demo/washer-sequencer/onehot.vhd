library ieee;
use ieee.std_logic_1164.all;

entity washer_sequencer is
    port (
        clk, rst_n, start, high, low : in  std_logic;
        valve, brush, drain          : out std_logic
    );
end entity;

architecture rtl of washer_sequencer is
    type state_t is (idle, fill, wash, empty);
    signal state : state_t;
begin
    process (clk, rst_n)
    begin
        if rst_n = '0' then
            state <= idle;
        elsif rising_edge(clk) then
            case state is
                when idle  => if start = '1' then state <= fill;  end if;
                when fill  => if high = '1'  then state <= wash;  end if;
                when wash  => if start = '0' then state <= empty; end if;
                when empty => if low = '1'   then state <= idle;  end if;
            end case;
        end if;
    end process;
    valve <= '1' when state = fill  else '0';
    brush <= '1' when state = wash  else '0';
    drain <= '1' when state = empty else '0';
end architecture;
