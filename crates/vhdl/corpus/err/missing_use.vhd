entity m is
  port (a : in std_logic; y : out std_logic); -- ERR missing-use-clause
end entity;
architecture rtl of m is
begin
  y <= a;
end architecture;
