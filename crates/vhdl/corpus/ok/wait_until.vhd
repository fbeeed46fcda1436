library ieee;
use ieee.std_logic_1164.all;
use ieee.numeric_std.all;
entity w is port(clk, d : in std_logic; q : out std_logic); end; architecture a of w is begin process begin wait until clk = '1'; q <= d; end process; end;
