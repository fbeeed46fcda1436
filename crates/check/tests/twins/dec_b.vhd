library ieee; use ieee.std_logic_1164.all; use ieee.numeric_std.all;
entity dec is port (en : in std_logic; s : in std_logic_vector(2 downto 0); y : out std_logic_vector(7 downto 0); v : out std_logic; idx : out std_logic_vector(1 downto 0)); end;
architecture rtl of dec is
  signal sel : std_logic_vector(3 downto 0);
begin
  sel <= en & s;
  with sel select y <=
    X"01" when "1000", x"02" when "1001", B"0000_0100" when "1010", "00001000" when "1011",
    "00010000" when "1100", "00100000" when "1101", "01000000" when "1110", "10000000" when "1111",
    (others => '0') when others;
  v <= or s;
  process (all)
    variable found : boolean;
  begin
    found := false;
    idx <= "00";
    for k in 2 downto 0 loop
      if s(k) = '1' then
        idx <= std_logic_vector(to_unsigned(k, 2));
        exit;
      end if;
    end loop;
  end process;
end rtl;
