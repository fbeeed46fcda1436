//! The derivation of a table as data: what `derive --json` prints and the workings page draws.

use logic::{
    ChartAction, Cube, Effort, Form, FormCost, Minimum, Notation, OutputColumn, RowSet, Steps, TruthTable,
    canonical_pos, canonical_sop, exclusive_form, form_cost, minimise, minimise_shared, static_hazards, tabular_steps,
};
use serde::{Deserialize, Serialize};

macro_rules! data {
    ($($(#[$meta:meta])* struct $name:ident { $($(#[$field_meta:meta])* $field:ident: $ty:ty,)* })*) => {
        $(
            $(#[$meta])*
            #[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
            #[cfg_attr(feature = "wire", derive(utoipa::ToSchema))]
            pub struct $name { $($(#[$field_meta])* pub $field: $ty,)* }
        )*
    };
}

data! {
    /// Canonical forms as text; empty when they were not asked for.
    struct CanonicalText {
        /// Sum of minterms.
        sop: String,
        /// Product of maxterms.
        pos: String,
    }

    /// A prime implicant.
    struct PrimeInfo {
        /// One character an input: 0, 1 or -.
        cube: String,
        /// It alone covers a row that must be 1.
        essential: bool,
        /// It covers some row that must be 1.
        covers_ones: bool,
    }

    /// One of the cheapest covers.
    struct CoverInfo {
        /// Its cubes; those of a product of sums name the rows that its sum terms make 0.
        cubes: Vec<String>,
        /// It as text.
        text: String,
    }

    /// The cheapest two-level forms of one kind.
    struct TwoLevel {
        /// Terms of each.
        terms: u32,
        /// Literals of each.
        literals: u32,
        /// Proved that none is cheaper.
        optimal: bool,
        /// Proved that none has fewer terms than this.
        least_terms: u32,
        /// All that tie, at most 64.
        covers: Vec<CoverInfo>,
        /// The list holds all that tie.
        all_covers: bool,
    }

    /// A form as a tree: a gate with operands, an input, or a constant.
    struct FormNode {
        /// `not`, `and`, `or`, `nand`, `nor`, `xor`, `xnor`, `input` or `constant`.
        kind: String,
        /// The input's name, or 0 or 1.
        name: String,
        /// The input is complemented.
        complemented: bool,
        /// What the gate joins.
        #[cfg_attr(feature = "wire", schema(no_recursion))]
        operands: Vec<FormNode>,
    }

    /// A form with exclusive ORs.
    struct ExclusiveForm {
        /// It as text.
        text: String,
        /// It as a tree.
        tree: FormNode,
    }

    /// Gates of one kind and the packages that hold them.
    struct PackageInfo {
        /// `NAND`, `AND` and so on.
        gate: String,
        /// Inputs of each gate as bought.
        inputs: u32,
        /// Gates needed.
        gates: u32,
        /// Packages of 14 pins.
        packages: u32,
    }

    /// What a form costs.
    struct CostInfo {
        /// `canonical SOP`, `minimal SOP`, `NAND–NAND` and so on.
        form: String,
        /// Terms.
        terms: u32,
        /// Literals.
        literals: u32,
        /// Gates without inverters at the inputs.
        gates: u32,
        /// Their inputs together.
        gate_inputs: u32,
        /// Gates on the longest way.
        levels: u32,
        /// Inverters at the inputs.
        inverters: u32,
        /// What to take from the shelf.
        packages: Vec<PackageInfo>,
        /// Packages in all.
        package_total: u32,
    }

    /// A static hazard of the first minimal form.
    struct HazardInfo {
        /// The input that changes.
        input: String,
        /// The row before.
        from: String,
        /// The row behind.
        to: String,
        /// The term that removes it, as a cube.
        cube: String,
        /// And as text.
        term: String,
        /// It in words.
        sentence: String,
    }

    /// A cube of a grouping column.
    struct GroupedCubeInfo {
        /// The cube.
        cube: String,
        /// The rows it covers.
        rows: Vec<u64>,
        /// It was combined, so it is not prime.
        combined: bool,
    }

    /// Cubes of a column with the same number of ones.
    struct OnesGroupInfo {
        /// Number of ones.
        ones: u32,
        /// The cubes.
        cubes: Vec<GroupedCubeInfo>,
    }

    /// A step in the prime chart.
    struct ChartStepInfo {
        /// `essential`, `row`, `column` or `choice`.
        kind: String,
        /// It in words.
        sentence: String,
        /// Cubes taken by it.
        takes: Vec<String>,
        /// The row or cube that goes.
        drops: Option<String>,
    }

    /// The tabular method, step by step.
    struct StepsInfo {
        /// Grouping columns.
        columns: Vec<Vec<OnesGroupInfo>>,
        /// Rows of the chart.
        chart_rows: Vec<u64>,
        /// Columns of the chart.
        chart_primes: Vec<String>,
        /// What is done in it.
        chart: Vec<ChartStepInfo>,
        /// The cover that it leads to.
        cover: Vec<String>,
    }

    /// Everything about one output.
    struct DerivedOutput {
        /// Its name.
        name: String,
        /// Rows where it is 1.
        minterms: Vec<u64>,
        /// Rows where it is 0.
        maxterms: Vec<u64>,
        /// Rows where it may be either.
        dont_cares: Vec<u64>,
        /// Canonical forms.
        canonical: CanonicalText,
        /// Prime implicants; empty when there were too many to list.
        primes: Vec<PrimeInfo>,
        /// Minimal sums of products.
        sop: TwoLevel,
        /// Minimal products of sums.
        pos: TwoLevel,
        /// The first minimal sum of products in NAND gates.
        nand_nand: String,
        /// The first minimal product of sums in NOR gates.
        nor_nor: String,
        /// With exclusive ORs, where that has fewer literals.
        xor: Option<ExclusiveForm>,
        /// What each form costs.
        costs: Vec<CostInfo>,
        /// Static-1 hazards of the first minimal sum of products.
        sop_hazards: Vec<HazardInfo>,
        /// Static-0 hazards of the first minimal product of sums.
        pos_hazards: Vec<HazardInfo>,
        /// How the sum of products is found, when asked for and short enough to follow.
        sop_steps: Option<StepsInfo>,
        /// How the product of sums is found.
        pos_steps: Option<StepsInfo>,
    }

    /// A product and the outputs that use it.
    struct SharedTermInfo {
        /// The product as a cube.
        cube: String,
        /// And as text.
        text: String,
        /// Names of the outputs.
        outputs: Vec<String>,
    }

    /// Sums of products for all outputs with as few different products as possible.
    struct SharedInfo {
        /// Number of different products.
        terms: u32,
        /// Their literals.
        literals: u32,
        /// Proved that none is cheaper.
        optimal: bool,
        /// Products of the outputs' own minimal forms together.
        apart_terms: u32,
        /// The products.
        products: Vec<SharedTermInfo>,
        /// An expression for each output, in order.
        texts: Vec<String>,
    }

    /// The derivation of a table.
    struct Derivation {
        /// Input bits, most significant first.
        inputs: Vec<String>,
        /// Outputs.
        outputs: Vec<DerivedOutput>,
        /// With shared products, when asked for and there are several outputs.
        shared: Option<SharedInfo>,
    }
}

/// What to work out, and how to write it.
#[derive(Clone, Debug)]
pub struct DeriveOptions {
    /// How expressions are written.
    pub notation: Notation,
    /// How hard to minimise.
    pub effort: Effort,
    /// With the steps of the tabular method.
    pub steps: bool,
    /// With shared products.
    pub shared: bool,
    /// With canonical forms.
    pub canonical: bool,
}

impl Default for DeriveOptions {
    fn default() -> Self {
        Self { notation: Notation::Prime, effort: Effort::default(), steps: false, shared: false, canonical: true }
    }
}

/// Derives everything that was asked for from a table of at most 16 inputs and 32 outputs.
pub fn derive(table: &TruthTable, options: &DeriveOptions) -> Derivation {
    let outputs = table.outputs.iter().map(|o| Work { table, options, output: o }.derive()).collect();
    let shared = (options.shared && table.outputs.len() > 1).then(|| shared(table, options));
    Derivation { inputs: table.inputs.clone(), outputs, shared }
}

struct Work<'a> {
    table: &'a TruthTable,
    options: &'a DeriveOptions,
    output: &'a OutputColumn,
}

impl Work<'_> {
    fn inputs(&self) -> u32 {
        self.table.input_count()
    }

    fn text(&self, form: &Form) -> String {
        form.text(&self.table.inputs, self.options.notation)
    }

    fn derive(&self) -> DerivedOutput {
        let (n, output) = (self.inputs(), self.output);
        let zeros = output.zeros();
        let sop = minimise(&output.ones, &output.dont_care, &self.options.effort);
        let pos = minimise(&zeros, &output.dont_care, &self.options.effort);
        let first = |m: &Minimum| m.covers.first().cloned().unwrap_or_default();
        let (sop_cover, pos_cover) = (first(&sop), first(&pos));
        let nand = Form::nand_nand(n, &sop_cover);
        let nor = Form::nor_nor(n, &pos_cover);
        let xor = exclusive_form(n, &output.ones, &output.dont_care, &sop_cover);
        let canonical = self.options.canonical;
        let names = &self.table.inputs;
        DerivedOutput {
            name: output.name.clone(),
            minterms: output.ones.iter().collect(),
            maxterms: zeros.iter().collect(),
            dont_cares: output.dont_care.iter().collect(),
            canonical: CanonicalText {
                sop: if canonical { canonical_sop(names, &output.ones, self.options.notation) } else { String::new() },
                pos: if canonical { canonical_pos(names, &zeros, self.options.notation) } else { String::new() },
            },
            primes: sop.primes.iter().map(|p| self.prime(p)).collect(),
            costs: self.costs(&zeros, &sop_cover, &pos_cover, xor.as_ref()),
            nand_nand: self.text(&nand),
            nor_nor: self.text(&nor),
            xor: xor.map(|form| ExclusiveForm { text: self.text(&form), tree: self.node(&form) }),
            sop_hazards: self.hazards(&sop_cover, true),
            pos_hazards: self.hazards(&pos_cover, false),
            sop_steps: self.steps(&output.ones, &sop, true),
            pos_steps: self.steps(&zeros, &pos, false),
            sop: self.two_level(&sop, Form::sop),
            pos: self.two_level(&pos, Form::pos),
        }
    }

    fn prime(&self, prime: &logic::Prime) -> PrimeInfo {
        PrimeInfo {
            cube: prime.cube.text(self.inputs()),
            essential: prime.essential,
            covers_ones: self.output.ones.meets_cube(prime.cube),
        }
    }

    fn two_level(&self, minimum: &Minimum, form: fn(u32, &[Cube]) -> Form) -> TwoLevel {
        let n = self.inputs();
        let cover = |cubes: &Vec<Cube>| CoverInfo {
            cubes: cubes.iter().map(|c| c.text(n)).collect(),
            text: self.text(&form(n, cubes)),
        };
        TwoLevel {
            terms: minimum.terms,
            literals: minimum.literals,
            optimal: minimum.optimal,
            least_terms: minimum.least_terms,
            covers: minimum.covers.iter().map(cover).collect(),
            all_covers: minimum.all_covers,
        }
    }

    fn node(&self, form: &Form) -> FormNode {
        let leaf = |kind: &str, name: &str, complemented| FormNode {
            kind: kind.into(),
            name: name.into(),
            complemented,
            operands: Vec::new(),
        };
        match form {
            Form::Const(value) => leaf("constant", if *value { "1" } else { "0" }, false),
            Form::Literal { input, positive } => {
                leaf("input", self.table.inputs.get(*input as usize).map_or("", String::as_str), !positive)
            }
            Form::Gate(op, operands) => FormNode {
                kind: op.word().to_ascii_lowercase(),
                name: String::new(),
                complemented: false,
                operands: operands.iter().map(|f| self.node(f)).collect(),
            },
        }
    }

    fn costs(&self, zeros: &RowSet, sop: &[Cube], pos: &[Cube], xor: Option<&Form>) -> Vec<CostInfo> {
        let n = self.inputs();
        let minterms = |rows: &RowSet| rows.iter().map(|r| Cube::minterm(n, r)).collect::<Vec<_>>();
        let mut list = Vec::new();
        let mut add = |name, cubes: &[Cube], form: fn(u32, &[Cube]) -> Form| {
            let mut cost = form_cost(&form(n, cubes));
            cost.terms = u32::try_from(cubes.len()).unwrap_or(u32::MAX);
            list.push(cost_info(name, &cost));
        };
        if self.options.canonical && n <= 10 {
            add("canonical SOP", &minterms(&self.output.ones), Form::sop);
            add("canonical POS", &minterms(zeros), Form::pos);
        }
        add("minimal SOP", sop, Form::sop);
        add("minimal POS", pos, Form::pos);
        add("NAND–NAND", sop, Form::nand_nand);
        add("NOR–NOR", pos, Form::nor_nor);
        list.extend(xor.map(|form| cost_info("with XOR", &form_cost(form))));
        list
    }

    fn hazards(&self, cover: &[Cube], is_sum: bool) -> Vec<HazardInfo> {
        let n = self.inputs();
        if cover.len() > 400 {
            return Vec::new();
        }
        let describe = |h: &logic::Hazard| {
            let form = if is_sum { Form::product(n, h.consensus) } else { Form::sum(n, h.consensus) };
            let term = self.text(&form);
            let input = self.table.inputs.get(h.input as usize).cloned().unwrap_or_default();
            let (from, to) = (logic::row_text(n, h.from), logic::row_text(n, h.to));
            let sentence = format!(
                "When `{input}` changes between rows {from} and {to}, `{}` should stay {} but no single term holds it; adding `{term}` does.",
                self.output.name,
                u8::from(is_sum)
            );
            HazardInfo { input, from, to, cube: h.consensus.text(n), term, sentence }
        };
        static_hazards(n, cover).iter().map(describe).collect()
    }

    fn steps(&self, ones: &RowSet, minimum: &Minimum, is_sum: bool) -> Option<StepsInfo> {
        if !self.options.steps {
            return None;
        }
        let n = self.inputs();
        let label = |cube: Cube| {
            let form = if is_sum { Form::product(n, cube) } else { Form::sum(n, cube) };
            format!("`{}`", self.text(&form))
        };
        let steps = tabular_steps(ones, &self.output.dont_care, minimum, &label)?;
        Some(steps_info(n, &steps))
    }
}

fn cost_info(name: &str, cost: &FormCost) -> CostInfo {
    let packages = cost.packages.iter().map(|p| PackageInfo {
        gate: p.op.word().to_owned(),
        inputs: p.inputs,
        gates: p.gates,
        packages: p.packages,
    });
    CostInfo {
        form: name.to_owned(),
        terms: cost.terms,
        literals: cost.literals,
        gates: cost.gates,
        gate_inputs: cost.gate_inputs,
        levels: cost.levels,
        inverters: cost.inverters,
        packages: packages.collect(),
        package_total: cost.package_total(),
    }
}

fn steps_info(n: u32, steps: &Steps) -> StepsInfo {
    let text = |c: &Cube| c.text(n);
    let group = |g: &logic::OnesGroup| OnesGroupInfo {
        ones: g.ones,
        cubes: g
            .cubes
            .iter()
            .map(|c| GroupedCubeInfo { cube: c.cube.text(n), rows: c.rows.clone(), combined: c.combined })
            .collect(),
    };
    let prime = |i: &usize| steps.chart_primes.get(*i).map(text).unwrap_or_default();
    let step = |s: &logic::ChartStep| {
        let (kind, takes, drops) = match &s.action {
            ChartAction::Essential { prime: p, .. } => ("essential", vec![prime(p)], None),
            ChartAction::RowDominated { row, .. } => ("row", Vec::new(), Some(row.to_string())),
            ChartAction::ColumnDominated { prime: p, .. } => ("column", Vec::new(), Some(prime(p))),
            ChartAction::Choice { primes, .. } => ("choice", primes.iter().map(prime).collect(), None),
        };
        ChartStepInfo { kind: kind.to_owned(), sentence: s.sentence.clone(), takes, drops }
    };
    StepsInfo {
        columns: steps.columns.iter().map(|c| c.iter().map(group).collect()).collect(),
        chart_rows: steps.chart_rows.clone(),
        chart_primes: steps.chart_primes.iter().map(text).collect(),
        chart: steps.chart.iter().map(step).collect(),
        cover: steps.cover.iter().map(text).collect(),
    }
}

fn shared(table: &TruthTable, options: &DeriveOptions) -> SharedInfo {
    let n = table.input_count();
    let cover = minimise_shared(table, &options.effort);
    let text = |form: &Form| form.text(&table.inputs, options.notation);
    let names = |set: u32| {
        let fed = table.outputs.iter().enumerate().filter(|(o, _)| *o < 32 && set >> o & 1 == 1);
        fed.map(|(_, o)| o.name.clone()).collect()
    };
    let products = cover.terms.iter().map(|t| SharedTermInfo {
        cube: t.cube.text(n),
        text: text(&Form::product(n, t.cube)),
        outputs: names(t.outputs),
    });
    let texts = (0..table.outputs.len().min(32)).map(|o| {
        let cubes: Vec<Cube> = cover.terms.iter().filter(|t| t.outputs >> o & 1 == 1).map(|t| t.cube).collect();
        text(&Form::sop(n, &cubes))
    });
    let quick = Effort { covers: 1, ..options.effort.clone() };
    let apart = table.outputs.iter().map(|o| minimise(&o.ones, &o.dont_care, &quick).terms).sum();
    SharedInfo {
        terms: u32::try_from(cover.terms.len()).unwrap_or(u32::MAX),
        literals: cover.literals,
        optimal: cover.optimal,
        apart_terms: apart,
        products: products.collect(),
        texts: texts.collect(),
    }
}
