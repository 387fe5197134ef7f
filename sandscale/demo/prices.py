"""The demonstration's resources, quotes and build-ups. Every firm and price is made up."""

from __future__ import annotations

# name, kind, unit, basis, quotes (supplier, price, quoted unit, contains where that doesn't say it, quoted on, valid to)
RESOURCES: tuple[tuple[str, str, str, str, tuple[tuple[str, str, str, str, str, str], ...]], ...] = (
    ("Labourer", "labour", "h", "latest", (("Sandhall Civil, own staff", "27.20", "h", "1", "2026-09-01", ""),)),
    ("Concreter", "labour", "h", "latest", (("Sandhall Civil, own staff", "31.80", "h", "1", "2026-09-01", ""),)),
    ("Formwork carpenter", "labour", "h", "latest", (("Sandhall Civil, own staff", "35.60", "h", "1", "2026-09-01", ""),)),
    ("Steel fixer", "labour", "h", "latest", (("Sandhall Civil, own staff", "34.10", "h", "1", "2026-09-01", ""),)),
    ("Mason", "labour", "h", "latest", (("Sandhall Civil, own staff", "34.50", "h", "1", "2026-09-01", ""),)),
    ("Mixer 350 l with fuel", "plant", "h", "latest", (("Weirside Plant Hire", "9.80", "h", "1", "2026-10-06", "2027-01-31"),)),
    ("Mixer 150 l with fuel", "plant", "h", "latest", (("Weirside Plant Hire", "6.20", "h", "1", "2026-10-06", "2027-01-31"),)),
    ("Roller with driver", "plant", "h", "latest", (("Weirside Plant Hire", "52.00", "h", "1", "2026-10-06", "2027-01-31"),)),
    ("Lorry 12 m³ with driver", "plant", "h", "latest", (("Weirside Plant Hire", "64.50", "h", "1", "2026-10-06", "2027-01-31"),)),
    ("Granular fill", "material", "t", "latest", (("Tern Aggregates", "11.80", "t", "1", "2026-10-20", "2027-01-31"),)),
    ("Poker vibrator", "plant", "h", "latest", (("Weirside Plant Hire", "4.40", "h", "1", "2026-10-06", "2027-01-31"),)),
    ("Cutting and bending bench", "plant", "h", "latest", (("Weirside Plant Hire", "7.10", "h", "1", "2026-10-06", "2027-01-31"),)),
    (
        "Cement", "material", "kg", "mean",
        (
            ("Quayside Merchants", "5.35", "bag 25 kg", "", "2026-10-12", "2026-12-31"),
            ("Marl Builders' Supply", "5.10", "bag 25 kg", "", "2026-10-14", "2026-12-15"),
            ("Tern Aggregates", "6.05", "bag 25 kg", "", "2026-02-03", "2026-03-31"),
        ),
    ),
    (
        "Sharp sand", "material", "m³", "lowest",
        (
            ("Tern Aggregates", "24.60", "t", "", "2026-10-09", "2026-12-31"),
            ("Quayside Merchants", "27.90", "t", "", "2026-10-12", "2026-12-31"),
        ),
    ),
    (
        "Coarse aggregate 20 mm", "material", "m³", "lowest",
        (
            ("Tern Aggregates", "22.80", "t", "0.667", "2026-10-09", "2026-12-31"),
            ("Quayside Merchants", "26.10", "t", "0.667", "2026-10-12", "2026-12-31"),
        ),
    ),
    (
        "Bars 16, high yield, cut and bent", "material", "kg", "latest",
        (
            ("Ostrey Steel Yard", "1085.00", "t", "", "2026-10-20", "2026-12-20"),
            ("Quayside Merchants", "1142.00", "t", "", "2026-10-12", "2026-12-31"),
        ),
    ),
    ("Tying wire", "material", "kg", "latest", (("Ostrey Steel Yard", "38.00", "coil 20 kg", "", "2026-10-20", "2026-12-20"),)),
    ("Formwork ply 18 mm", "material", "m²", "latest", (("Marl Builders' Supply", "61.20", "sheet", "2.977", "2026-10-14", "2026-12-15"),)),
    ("Sawn timber", "material", "m³", "latest", (("Marl Builders' Supply", "498.00", "m³", "1", "2026-10-14", "2026-12-15"),)),
    ("Membrane 300 µm", "material", "m²", "latest", (("Marl Builders' Supply", "96.00", "roll 100 m²", "", "2026-10-14", "2026-12-15"),)),
    (
        "Block 390 × 190 × 140", "material", "nr", "mean",
        (
            ("Marl Builders' Supply", "1.61", "nr", "1", "2026-10-14", "2026-12-15"),
            ("Ostrey Block Works", "1.55", "nr", "1", "2026-10-15", "2026-12-31"),
            ("Quayside Merchants", "1.70", "nr", "1", "2026-10-12", "2026-12-31"),
            ("Tern Aggregates", "1.98", "nr", "1", "2026-02-03", "2026-03-31"),
        ),
    ),
    ("Nails, release agent", "sundries", "m²", "latest", (("Marl Builders' Supply", "1.15", "m²", "1", "2026-10-14", "2026-12-15"),)),
    ("Hand tools, cutting discs", "sundries", "m²", "latest", (("Sandhall Civil, own estimate", "0.85", "m²", "1", "2026-09-01", ""),)),
    ("Power float", "plant", "h", "latest", (("Weirside Plant Hire", "6.90", "h", "1", "2026-10-06", "2027-01-31"),)),
    ("Crushed rock 0/45", "material", "m³", "lowest", (("Tern Aggregates", "17.40", "t", "0.5", "2026-10-09", "2026-12-31"),)),
    ("Plate compactor", "plant", "h", "latest", (("Weirside Plant Hire", "5.60", "h", "1", "2026-10-06", "2027-01-31"),)),
    ("Pressure pipe DN 200", "material", "m", "latest", (("Quayside Merchants", "231.60", "length 12 m", "", "2026-10-12", "2026-12-31"),)),
    ("Chamber rings and cover", "material", "nr", "latest", (("Marl Builders' Supply", "615.00", "nr", "1", "2026-10-14", "2026-12-15"),)),
    ("Asphalt, delivered hot", "material", "t", "latest", (("Tern Aggregates", "78.50", "t", "1", "2026-10-09", "2026-12-31"),)),
    ("Kerb 150 × 300", "material", "m", "latest", (("Marl Builders' Supply", "9.40", "m", "1", "2026-10-14", "2026-12-15"),)),
    ("Paver with driver", "plant", "h", "latest", (("Weirside Plant Hire", "148.00", "h", "1", "2026-10-06", "2027-01-31"),)),
    ("Excavator 8 t with driver", "plant", "h", "latest", (("Weirside Plant Hire", "58.00", "h", "1", "2026-10-06", "2027-01-31"),)),
    ("Machine driver", "labour", "h", "latest", (("Sandhall Civil, own staff", "31.40", "h", "1", "2026-09-01", ""),)),
    ("Diesel", "material", "l", "latest", (("Weirside Plant Hire", "1.20", "l", "1", "2026-10-06", "2027-01-31"),)),
)  # fmt: skip

# what is worked out: resource, way, inputs, what is taken from other resources
WORKED = (
    (
        "Excavator 8 t with driver", "hire", {"hire": "728", "hours": "40", "fuel": "7"},
        {"fuel_price": "Diesel", "driver": "Machine driver"},
    ),
)  # fmt: skip
# resource, density, its source
DENSITIES = (
    ("Sharp sand", "1600", "Tern Aggregates, data sheet"),
    ("Granular fill", "1900", "Tern Aggregates, data sheet"),
)
# resource, from, to; the firm's own
NORMS = (("Cement", "0.19", "0.22"), ("Block 390 × 190 × 140", "1.45", "1.70"), ("Sawn timber", "460", "510"))
NORMS_ARE_OF = "Sandhall Civil, 2026"
SUPPLIERS = (
    ("Quayside Merchants", "sales@quayside.example"), ("Marl Builders' Supply", "quotes@marl.example"),
    ("Tern Aggregates", "desk@tern.example"), ("Ostrey Block Works", "prices@ostrey-blocks.example"),
)  # fmt: skip
# what an enquiry that stands ready asks for
ENQUIRY = ("Masonry and mixes", ("Cement", "Sharp sand", "Block 390 × 190 × 140", "Membrane 300 µm"))

# name, who and what works together for one hour.
GANGS: tuple[tuple[str, tuple[tuple[str, str], ...]], ...] = (
    ("Masons' gang", (("Mason", "2"), ("Labourer", "1"))),
    ("Concrete gang", (("Concreter", "1"), ("Labourer", "2"), ("Poker vibrator", "1"))),
)

# name, unit, heading, output, hours, lines (resource, “=build-up or gang” or “%group”, quantity, allowance); labour and plant go by output.
BUILD_UPS: tuple[tuple[str, str, str, str, str, tuple[tuple[str, str, str], ...]], ...] = (
    (
        "Concrete C30/37, mixed on site", "m³", "Mixes", "2.4", "1",
        (("Labourer", "2", "0"), ("Mixer 350 l with fuel", "1", "0"), ("Cement", "365", "2"), ("Sharp sand", "0.46", "8"), ("Coarse aggregate 20 mm", "0.78", "8")),
    ),
    (
        "Concrete C12/15 for blinding", "m³", "Mixes", "2.6", "1",
        (("Labourer", "2", "0"), ("Mixer 350 l with fuel", "1", "0"), ("Cement", "220", "2"), ("Sharp sand", "0.52", "8"), ("Coarse aggregate 20 mm", "0.84", "8")),
    ),
    ("Mortar 1:4", "m³", "Mixes", "0.6", "1", (("Labourer", "1", "0"), ("Mixer 150 l with fuel", "1", "0"), ("Cement", "383", "2"), ("Sharp sand", "1.064", "5"))),
    (
        "Concrete placed in footings", "m³", "Substructure", "3.2", "1",
        (("=Concrete gang", "1", "0"), ("=Concrete C30/37, mixed on site", "1", "5"), ("%labour", "2", "0")),
    ),
    (
        "Concrete placed in ground slab", "m³", "Substructure", "30", "8",
        (("Concreter", "2", "0"), ("Labourer", "3", "0"), ("Poker vibrator", "2", "0"), ("=Concrete C30/37, mixed on site", "1", "4")),
    ),
    ("Membrane laid below slab", "m²", "Substructure", "45", "1", (("Labourer", "2", "0"), ("Membrane 300 µm", "1", "15"))),
    (
        "Sub-base placed and compacted", "m³", "Substructure", "9", "1",
        (("Labourer", "2", "0"), ("Plate compactor", "1", "0"), ("Excavator 8 t with driver", "0.5", "0"), ("Crushed rock 0/45", "1", "12")),
    ),
    ("Slab power floated", "m²", "Substructure", "28", "1", (("Concreter", "1", "0"), ("Power float", "1", "0"), ("%labour", "3", "0"))),
    ("Blinding placed", "m³", "Substructure", "2.5", "1", (("Labourer", "2", "0"), ("=Concrete C12/15 for blinding", "1", "10"))),
    (
        "Formwork to sides of footings", "m²", "Substructure", "1.3", "1",
        (("Formwork carpenter", "1", "0"), ("Labourer", "0.5", "0"), ("Formwork ply 18 mm", "1/4", "10"), ("Sawn timber", "0.035/4", "10"), ("Nails, release agent", "1", "0")),
    ),
    (
        "Bars fixed in footings", "kg", "Substructure", "420", "8",
        (("Steel fixer", "1", "0"), ("Labourer", "0.5", "0"), ("Bars 16, high yield, cut and bent", "1", "3"), ("Tying wire", "0.012", "5")),
    ),
    ("Trial pit to 2 m, backfilled", "nr", "Substructure", "4", "8", (("Excavator 8 t with driver", "1", "0"), ("Labourer", "1", "0"))),
    ("Topsoil and paving stripped", "m³", "Earthwork", "26", "1", (("Excavator 8 t with driver", "1", "0"), ("Labourer", "0.5", "0"))),
    ("Excavated to formation", "m³", "Earthwork", "34", "1", (("Excavator 8 t with driver", "1", "0"), ("Labourer", "0.5", "0"))),
    ("Fill compacted in layers", "m³", "Earthwork", "38", "1", (("Excavator 8 t with driver", "0.5", "0"), ("Roller with driver", "1", "0"), ("Labourer", "1", "0"))),
    ("Fill brought in", "m³", "Earthwork", "38", "1", (("Granular fill", "1.9", "5"),)),
    ("Carted away", "m³", "Earthwork", "22", "1", (("Excavator 8 t with driver", "0.5", "0"), ("Lorry 12 m³ with driver", "3", "0"))),
    ("Formation and slopes trimmed", "m²", "Earthwork", "140", "1", (("Excavator 8 t with driver", "0.5", "0"), ("Roller with driver", "0.5", "0"), ("Labourer", "1", "0"))),
    ("Trench dug", "m³", "Trenches", "18", "1", (("Excavator 8 t with driver", "1", "0"), ("Labourer", "1", "0"))),
    ("Trench backfilled", "m³", "Trenches", "22", "1", (("Excavator 8 t with driver", "0.5", "0"), ("Plate compactor", "1", "0"), ("Labourer", "1", "0"))),
    ("Gravel bed laid", "m³", "Trenches", "7", "1", (("Labourer", "2", "0"), ("Excavator 8 t with driver", "0.5", "0"), ("Granular fill", "1.75", "8"))),
    ("Sand round pipes laid", "m³", "Trenches", "6", "1", (("Labourer", "2", "0"), ("Excavator 8 t with driver", "0.5", "0"), ("Sharp sand", "1", "12"))),
    ("Pressure pipe DN 200 laid", "m", "Trenches", "12", "1", (("Labourer", "3", "0"), ("Pressure pipe DN 200", "1", "3"))),
    ("Chamber built", "nr", "Trenches", "1", "8", (("Labourer", "2", "0"), ("Excavator 8 t with driver", "0.5", "0"), ("Chamber rings and cover", "1", "0"))),
    ("Topsoil put back", "m²", "Trenches", "60", "1", (("Excavator 8 t with driver", "0.5", "0"), ("Labourer", "1", "0"))),
    (
        "Bituminous course laid", "t", "Roads", "32", "1",
        (("Paver with driver", "1", "0"), ("Roller with driver", "1", "0"), ("Labourer", "4", "0"), ("Asphalt, delivered hot", "1", "2")),
    ),
    ("Kerb set in concrete", "m", "Roads", "11", "1", (("Labourer", "3", "0"), ("Kerb 150 × 300", "1", "3"))),
    (
        "Blockwork 140 in walls", "m²", "Masonry", "1.9", "1",
        (
            ("=Masons' gang", "1", "0"), ("Mixer 150 l with fuel", "0.5", "0"),
            ("Block 390 × 190 × 140", "1/((0.390+0.010)*(0.190+0.010))", "5"), ("=Mortar 1:4", "0.0103", "10"), ("Hand tools, cutting discs", "1", "0"),
        ),
    ),
)  # fmt: skip

# name, unit, what its sizes are and in which unit, source, year, sizes (labour, plant, material)
REFERENCES = (
    (
        "Concrete wall, formed and poured", "m²", "thickness", "mm", "Sandhall Civil, finished jobs", "2025",
        (("150", "31.40", "2.10", "18.10"), ("200", "38.90", "2.60", "18.70"), ("300", "52.20", "3.40", "24.80")),
    ),
)  # fmt: skip
# a rate that reads one of them: name, unit, heading, reference, size
READ = (("Screen wall 175, from known costs", "m²", "Masonry", "Concrete wall, formed and poured", "175"),)

# how a bill item's words begin → build-up; the first that fits
RATES_OF_ITEMS = (
    ("Excavate trenches", "Trench dug"),
    ("Excavate pits", "Trench dug"),
    ("Backfill", "Trench backfilled"),
    ("Gravel bed", "Gravel bed laid"),
    ("Sand bed", "Sand round pipes laid"),
    ("Pipe PE DN 200", "Pressure pipe DN 200 laid"),
    ("Manholes", "Chamber built"),
    ("Reinstate Topsoil", "Topsoil put back"),
    ("Strip", "Topsoil and paving stripped"),
    ("Excavate", "Excavated to formation"),
    ("Fill to formation", "Fill compacted in layers"),
    ("Fill beside layers", "Fill compacted in layers"),
    ("Extra for fill", "Fill brought in"),
    ("Cart", "Carted away"),
    ("Trim", "Formation and slopes trimmed"),
    ("Bituminous", "Bituminous course laid"),
    ("Crushed base", "Sub-base placed and compacted"),
    ("Frost layer", "Sub-base placed and compacted"),
    ("Kerb concrete", "Blinding placed"),
    ("Kerbs", "Kerb set in concrete"),
    ("Blinding concrete", "Blinding placed"),
    ("Concrete C30/37 in ground slabs", "Concrete placed in ground slab"),
    ("Concrete C30/37", "Concrete placed in footings"),
    ("Formwork", "Formwork to sides of footings"),
    ("Bars", "Bars fixed in footings"),
    ("Links", "Bars fixed in footings"),
    ("Granular sub-base", "Sub-base placed and compacted"),
    ("Damp-proof membrane", "Membrane laid below slab"),
    ("Power float", "Slab power floated"),
    ("Blockwork", "Blockwork 140 in walls"),
)
# mark, rule, what is entered, and the input that is drawn: hours of a resource over the items that need it
ALLOWANCE = ("RC1", "road-cleaning", {"heavy_hours": "18"}, "own_hours", "Lorry 12 m³ with driver")
