library ieee; use ieee.std_logic_1164.all;
entity hopper is port(full:in std_logic;gate:in std_logic;run:in std_logic;motor:out std_logic;stops:out std_logic_vector(1 downto 0));end entity hopper;
architecture behavioral of hopper is
  signal s : std_logic_vector(2 downto 0);
begin
  s <= full & gate & run;
  process(s)
  begin
    case s is
      when "000" => motor <= '0'; stops <= "00";
      when "001" => motor <= '1'; stops <= "00";
      when "010" | "011" | "100" | "101" => motor <= '0'; stops <= "01";
      when others => motor <= '0'; stops <= "10";
    end case;
  end process;
end architecture behavioral;
