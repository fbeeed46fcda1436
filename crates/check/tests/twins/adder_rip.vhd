library ieee;
use ieee.std_logic_1164.all;
entity full_adder is
  port (x, y, ci : in std_logic; s, co : out std_logic);
end full_adder;
architecture dataflow of full_adder is
  signal p : std_logic;
begin
  p <= x xor y;
  s <= p xor ci;
  co <= (x and y) or (p and ci);
end dataflow;

library ieee;
use ieee.std_logic_1164.all;
entity adder is
  generic (N : positive := 4);
  port (a, b : in std_logic_vector(N-1 downto 0); cin : in std_logic;
        s : out std_logic_vector(N-1 downto 0); cout : out std_logic);
end adder;
architecture structural of adder is
  component full_adder
    port (x, y, ci : in std_logic; s, co : out std_logic);
  end component;
  signal c : std_logic_vector(N downto 0);
begin
  c(0) <= cin;
  gen : for i in a'reverse_range generate
    fa : full_adder port map (x => a(i), y => b(i), ci => c(i), s => s(i), co => c(i+1));
  end generate gen;
  cout <= c(N);
end structural;
