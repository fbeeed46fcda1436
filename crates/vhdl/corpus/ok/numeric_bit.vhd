library ieee; use ieee.numeric_bit.all;
entity t is port(a : in bit_vector(3 downto 0); y : out bit); end; architecture x of t is begin y <= '1' when unsigned(a) > 5 else '0'; end;
