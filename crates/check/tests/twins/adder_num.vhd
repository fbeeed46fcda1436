library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity adder is
  port (a, b : in std_logic_vector(3 downto 0); cin : in std_logic;
        s : out std_logic_vector(3 downto 0); cout : out std_logic);
end adder;
architecture behave of adder is
  signal total : unsigned(4 downto 0);
begin
  total <= ('0' & unsigned(a)) + ('0' & unsigned(b)) + ("0000" & cin);
  s <= std_logic_vector(total(3 downto 0));
  cout <= total(4);
end behave;
