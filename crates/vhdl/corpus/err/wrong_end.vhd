library ieee;
use ieee.std_logic_1164.all;
entity m is
  port (a : in std_logic; y : out std_logic);
end entity n; -- ERR wrong-end-name
