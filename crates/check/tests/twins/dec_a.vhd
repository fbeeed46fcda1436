library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity dec is port (en : in std_logic; s : in std_logic_vector(2 downto 0); y : out std_logic_vector(7 downto 0); v : out std_logic; idx : out std_logic_vector(1 downto 0)); end;
architecture rtl of dec is
begin
  process (en, s)
  begin
    y <= (others => '0');
    if en = '1' then
      y(to_integer(unsigned(s))) <= '1';
    end if;
  end process;
  enc : process (s)
  begin
    v <= '1';
    if s(2) = '1' then idx <= "10";
    elsif s(1) = '1' then idx <= "01";
    elsif s(0) = '1' then idx <= "00";
    else idx <= "00"; v <= '0';
    end if;
  end process enc;
end rtl;
