library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity dec is port (en : in std_logic; s : in std_logic_vector(2 downto 0); y : out std_logic_vector(7 downto 0); v : out std_logic; idx : out std_logic_vector(1 downto 0)); end;
architecture rtl of dec is
begin
  y <= std_logic_vector(shift_left(to_unsigned(1, 8), to_integer(unsigned(s)))) when en = '1' else x"00";
  v <= '0' when s = "000" else '1';
  process (s)
  begin
    case? s is
      when "1--" => idx <= "10";
      when "01-" => idx <= "01";
      when others => idx <= "00";
    end case?;
  end process;
end rtl;
