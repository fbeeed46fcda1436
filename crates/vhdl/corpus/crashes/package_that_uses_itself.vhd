library ieee;
use ieee.std_logic_1164.all;
use work.crates.all;
package crates is
  constant dozen : integer := 12;
end package;
library ieee;
use ieee.std_logic_1164.all;
use work.crates.all;
entity e is port (a : in std_logic; y : out std_logic); end;
architecture x of e is begin y <= a; end;
