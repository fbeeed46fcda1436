library ieee;
use ieee.std_logic_1164.all;
entity adder is
  port (a, b : in std_logic_vector(3 downto 0); cin : in std_logic;
        s : out std_logic_vector(3 downto 0); cout : out std_logic);
end adder;
architecture behave of adder is
  procedure add1(signal x, y : in std_logic; variable c : inout std_logic; variable r : out std_logic) is
  begin
    r := x xor y xor c;
    c := (x and y) or (x and c) or (y and c);
  end procedure;
begin
  process (a, b, cin)
    variable c, r : std_logic;
  begin
    c := cin;
    for i in 0 to 3 loop
      add1(a(i), b(i), c, r);
      s(i) <= r;
    end loop;
    cout <= c;
  end process;
end behave;
