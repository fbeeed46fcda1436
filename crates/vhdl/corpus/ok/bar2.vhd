library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity cell is
  generic (threshold : natural := 1);
  port (level : in unsigned(2 downto 0); lit : out std_logic);
end entity;
architecture a of cell is
begin
  lit <= '1' when level >= threshold else '0';
end architecture;
library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity bar_graph is
  port (level : in std_logic_vector(2 downto 0); bar : out std_logic_vector(6 downto 0));
end entity;
architecture gen of bar_graph is
  component cell is
    generic (threshold : natural := 1);
    port (level : in unsigned(2 downto 0); lit : out std_logic);
  end component;
begin
  g: for i in 0 to 5 generate
    c: cell generic map (threshold => i + 1) port map (level => unsigned(level), lit => bar(i));
  end generate;
  last: entity work.cell(a) generic map (7) port map (unsigned(level), bar(6));
end architecture;
