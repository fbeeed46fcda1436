library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity adder is
  port (a, b : in std_logic_vector(3 downto 0); cin : in std_logic;
        s : out std_logic_vector(3 downto 0); cout : out std_logic);
end adder;
architecture behave of adder is
  function to_int(b : std_logic) return natural is
  begin
    if b = '1' then return 1; else return 0; end if;
  end function;
begin
  process (a, b, cin) is
    variable sum : integer range 0 to 31;
    variable v : std_logic_vector(4 downto 0);
  begin
    sum := to_integer(unsigned(a)) + to_integer(unsigned(b)) + to_int(cin);
    v := std_logic_vector(to_unsigned(sum, 5));
    s <= v(3 downto 0);
    cout <= v(4);
  end process;
end behave;
