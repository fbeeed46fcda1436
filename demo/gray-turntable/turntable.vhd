library ieee;
use ieee.std_logic_1164.all;
package tools is
  function to_gray(b : std_logic_vector) return std_logic_vector;
  constant width : integer := 4;
end package;
package body tools is
  function to_gray(b : std_logic_vector) return std_logic_vector is
    variable g : std_logic_vector(b'range);
  begin
    g(b'left) := b(b'left);
    for i in b'left - 1 downto 0 loop
      g(i) := b(i + 1) xor b(i);
    end loop;
    return g;
  end function;
end package body;
library ieee;
use ieee.std_logic_1164.all;
use work.tools.all;
entity gray is port (pos : in std_logic_vector(width - 1 downto 0); rim : out std_logic_vector(width - 1 downto 0)); end gray;
architecture f of gray is begin rim <= to_gray(pos); end f;
