library ieee;
entity turntable is
  port (pos : in std_logic_vector(3 downto 0); rim : out std_logic_vector(3 downto 0));
end entity;
architecture shifted of turntable is
begin
  rim <= pos xor ('0' & pos(3 downto 1));
end architecture;
