-- A range that holds one number only, as a generic of 1 makes it (IEEE 1076-2008 5.2.3: a range is null only where its left
-- bound is beyond the right one).
library ieee; use ieee.std_logic_1164.all;
entity divider is
  generic (half : positive := 1);
  port (clk, rst : in std_logic; slow : out std_logic);
end divider;
architecture rtl of divider is
  signal n : integer range 0 to half - 1 := 0;
  signal s : std_logic;
begin
  process (clk)
  begin
    if rising_edge(clk) then
      if rst = '1' then
        n <= 0;
        s <= '0';
      elsif n = half - 1 then
        n <= 0;
        s <= not s;
      else
        n <= n + 1;
      end if;
    end if;
  end process;
  slow <= s;
end rtl;
