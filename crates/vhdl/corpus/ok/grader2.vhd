library ieee;
use ieee.std_logic_1164.all;
use ieee.std_logic_unsigned.all;
use ieee.std_logic_arith.all;
entity grader is
  port (w : in std_logic_vector(3 downto 0); light : out std_logic; middle : out std_logic; heavy : out std_logic);
end grader;
architecture a of grader is
begin
  process (w)
    variable v : std_logic_vector(2 downto 0);
  begin
    v := "000";
    if w < 4 then v := "100";
    elsif w < "0111" then v(1) := '1';
    else v(0) := '1';
    end if;
    (light, middle, heavy) <= v;
  end process;
end a;
