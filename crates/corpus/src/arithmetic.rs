//! Adders and multipliers of different build, as Verilog made of gates: the same function by other ways.

use std::fmt::Write as _;

fn adder(name: &str, width: u32, body: &str) -> String {
    let top = width - 1;
    format!(
        "module {name}(input [{top}:0] a, b, input cin, output [{top}:0] s, output cout);\n\
         wire [{width}:0] c;\nassign c[0] = cin, cout = c[{width}];\n{body}endmodule\n"
    )
}

/// Full adders in a row.
pub fn ripple_adder(width: u32) -> String {
    let mut body = String::new();
    for i in 0..width {
        let next = i + 1;
        let _ = writeln!(
            body,
            "assign s[{i}] = a[{i}] ^ b[{i}] ^ c[{i}], c[{next}] = a[{i}] & b[{i}] | c[{i}] & (a[{i}] ^ b[{i}]);"
        );
    }
    adder("ripple", width, &body)
}

/// Carries of four bits at a time from generate and propagate (Weinberger and Smith 1958).
pub fn lookahead_adder(width: u32) -> String {
    let top = width - 1;
    let mut body = format!("wire [{top}:0] g = a & b, p = a ^ b;\nassign s = p ^ c[{top}:0];\n");
    for i in 0..width {
        let first = i / 4 * 4;
        // c[i+1] = g[i] | p[i] g[i-1] | … | p[i] … p[first] c[first]
        let mut terms = Vec::new();
        for k in (first..=i).rev() {
            let chain: Vec<String> = (k + 1..=i).map(|j| format!("p[{j}]")).collect();
            terms.push(chain.into_iter().chain([format!("g[{k}]")]).collect::<Vec<_>>().join(" & "));
        }
        let chain: Vec<String> = (first..=i).map(|j| format!("p[{j}]")).collect();
        terms.push(chain.into_iter().chain([format!("c[{first}]")]).collect::<Vec<_>>().join(" & "));
        let _ = writeln!(body, "assign c[{}] = {};", i + 1, terms.join(" | "));
    }
    adder("lookahead", width, &body)
}

/// Groups of four bits are added for both carries; the carry that comes selects (Bedrij 1962).
pub fn select_adder(width: u32) -> String {
    let mut body = String::new();
    for first in (0..width).step_by(4) {
        let last = (first + 3).min(width - 1);
        let (size, n) = (last - first + 2, first / 4);
        let _ = writeln!(
            body,
            "wire [{high}:0] zero{n} = a[{last}:{first}] + b[{last}:{first}], one{n} = a[{last}:{first}] + b[{last}:{first}] + {size}'d1;\n\
             assign {{c[{}], s[{last}:{first}]}} = c[{first}] ? one{n} : zero{n};",
            last + 1,
            high = size - 1
        );
    }
    // Carries within the groups are not used.
    for i in (0..=width).filter(|i| i % 4 != 0 && *i != width) {
        let _ = writeln!(body, "assign c[{i}] = 1'b0;");
    }
    adder("select", width, &body)
}

fn multiplier(name: &str, width: u32, body: &str) -> String {
    let (top, wide) = (width - 1, 2 * width - 1);
    format!(
        "module full(input x, y, z, output s, c);\nassign s = x ^ y ^ z, c = x & y | x & z | y & z;\nendmodule\n\
         module {name}(input [{top}:0] a, b, output [{wide}:0] p);\n{body}endmodule\n"
    )
}

/// Rows of full adders below each other (Braun 1963).
pub fn array_multiplier(width: u32) -> String {
    let mut body = String::new();
    // What has been added so far, without the bits that are settled.
    let mut sum: Vec<String> = (0..width).map(|i| format!("a[{i}] & b[0]")).chain(["1'b0".into()]).collect();
    let mut product = Vec::new();
    for row in 1..width {
        product.push(sum.remove(0));
        let mut carry = "1'b0".to_owned();
        for (i, bit) in sum.iter_mut().enumerate() {
            let (s, c) = (format!("s{row}_{i}"), format!("c{row}_{i}"));
            let _ = writeln!(body, "wire {s}, {c}; full f{row}_{i}({bit}, a[{i}] & b[{row}], {carry}, {s}, {c});");
            (*bit, carry) = (s, c);
        }
        sum.push(carry);
    }
    product.extend(sum);
    for (i, bit) in product.iter().enumerate() {
        let _ = writeln!(body, "assign p[{i}] = {bit};");
    }
    multiplier("array", width, &body)
}

/// Columns of partial products reduced three to two until two rows are left, then added (Wallace 1964).
pub fn wallace_multiplier(width: u32) -> String {
    let size = 2 * width as usize;
    let mut body = String::new();
    let mut columns: Vec<Vec<String>> = vec![Vec::new(); size + 1];
    for i in 0..width {
        for j in 0..width {
            columns[(i + j) as usize].push(format!("(a[{i}] & b[{j}])"));
        }
    }
    let mut count = 0;
    while columns.iter().any(|c| c.len() > 2) {
        let mut next: Vec<Vec<String>> = vec![Vec::new(); size + 1];
        for (k, column) in columns.iter().enumerate() {
            for group in column.chunks(3) {
                if let [x, y, z] = group {
                    let _ =
                        writeln!(body, "wire s{count}, c{count}; full f{count}({x}, {y}, {z}, s{count}, c{count});");
                    next[k].push(format!("s{count}"));
                    if k < size {
                        next[k + 1].push(format!("c{count}"));
                    }
                    count += 1;
                } else {
                    next[k].extend_from_slice(group);
                }
            }
        }
        columns = next;
    }
    let row = |r: usize| {
        let bits: Vec<&str> = (0..size).rev().map(|k| columns[k].get(r).map_or("1'b0", String::as_str)).collect();
        format!("{{{}}}", bits.join(", "))
    };
    let _ = writeln!(body, "assign p = {} + {};", row(0), row(1));
    multiplier("wallace", width, &body)
}
