"""The parts of a system on the drawing: name, the values behind each, the main one and its step, and notes."""

S = "system."
TUBES = ("manifold", "tubes_inside", "tube_bore_mm", "tube_length_m", "in_series")
NOTES = {
    "collector": "η0, a1, a2, a5 and the incidence factor stand on the collector’s data sheet or test certificate, by "
    "gross or aperture area: choose the one it says.",
    "store": "Insulation loss is what the tank loses for each degree it is warmer than its room: 1 kWh in 24 h at 45 K "
    "is 0.93 W/K or 1.76 Btu/h °F.",
    "stove": "Solid fuel cannot be switched off: its water needs an open way to rise, to cool and to boil off. Pipes "
    "at least 1 in 20 upwards, no valve between stove and vent, fitted by a licensed trade to the local code.",
    "mirror": "A mirror can blind people and set fire to what it is turned on: mind neighbours, roads and dry leaves, "
    "and turn or cover it when the collectors stand still.",
    "second_store": "The first store preheats this one. Preheat: water passes both. Direct: the first alone serves the "
    "taps and this one’s heaters rest. Bypass: the first is cut off.",
    "loop": "A pump’s curve is typed as points of flow and head, from still to free flow: the flow then follows the "
    "loop. Without it the flow is as typed.",
    "tubes": "A serpentine is one tube of its true length. Collectors one after the other share the flow’s way; side "
    "by side they share the flow.",
    "dump": "Radiators that warm rooms count as room heat while those want it; else their heat is led away.",
}
"""What a part's panel says beneath its values: cautions first."""
PARTS: dict[str, tuple[str, tuple[str, ...], str, float]] = {
    # key: title, paths, main value stepped, step
    "kind": ("How it works", (), "", 0),
    "collector": (
        "Collectors",
        tuple(
            f"{S}collector.{n}"
            for n in (
                "count",
                "area_m2",
                "area_basis",
                "gross_area_m2",
                "eta0",
                "a1_w_m2k",
                "a2_w_m2k2",
                "a5_kj_m2k",
                "iam_b0",
                "iam_diffuse",
            )
        ),
        f"{S}collector.count",
        1,
    ),
    "store": (
        "Storage tank",
        tuple(
            f"{S}store.{n}"
            for n in ("volume_l", "loss_w_k", "height_to_width", "conductivity_w_mk", "room_c", "start_c")
        ),
        f"{S}store.volume_l",
        50,
    ),
    "add": ("Add or leave out", (), "", 0),
    "second_collector": (
        "Second collectors",
        tuple(
            f"{S}second_collector.{n}"
            for n in ("count", "area_m2", "area_basis", "eta0", "a1_w_m2k", "a2_w_m2k2", "a5_kj_m2k")
        ),
        f"{S}second_collector.count",
        1,
    ),
    "second_store": (
        "Second store",
        (
            *tuple(f"{S}second_store.{n}" for n in ("volume_l", "count", "loss_w_k", "room_c", "start_c")),
            *tuple(f"{S}control.{n}" for n in ("mode", "other_mode", "other_from_day", "other_to_day")),
        ),
        f"{S}second_store.volume_l",
        50,
    ),
    "coil": ("Coil", tuple(f"{S}coil.{n}" for n in ("ua_w_k", "bottom_share", "top_share")), f"{S}coil.ua_w_k", 50),
    "plate": (
        "Exchanger",
        tuple(f"{S}plate.{n}" for n in ("ua_w_k", "store_flow_kg_h", "store_pump_w")),
        f"{S}plate.ua_w_k",
        100,
    ),
    "jacket": (
        "Jacket",
        tuple(f"{S}jacket.{n}" for n in ("ua_w_k", "bottom_share", "top_share")),
        f"{S}jacket.ua_w_k",
        50,
    ),
    "draw": (
        "Draw coil",
        tuple(
            f"{S}draw_coil.{n}"
            for n in (
                "ua_w_k",
                "bottom_share",
                "top_share",
                "flow_l_min",
                "measured",
                "length_m",
                "outer_mm",
                "wall_mm",
                "material",
            )
        ),
        f"{S}draw_coil.ua_w_k",
        100,
    ),
    "integral": (
        "Water in the collector",
        (
            *tuple(
                f"{S}integral.{n}"
                for n in (
                    "depth_mm",
                    "vessels",
                    "diameter_mm",
                    "length_m",
                    "gap_reflects",
                    "back_w_m2k",
                    "insulation_mm",
                    "insulation_w_mk",
                    "blanket_leaves",
                    "draws",
                    "layers_by_day",
                )
            ),
            f"{S}store.volume_l",
        ),
        f"{S}integral.back_w_m2k",
        0.2,
    ),
    "ports": (
        "Ports of the store",
        tuple(f"{S}loop.{n}" for n in ("in_share", "out_share", "layering")),
        f"{S}loop.in_share",
        0.1,
    ),
    "siphon": (
        "Heights and passages",
        (
            *tuple(
                f"{S}loop.geometry.{n}"
                for n in ("store_bottom_m", "fittings", "exchanger_m", "exchanger_bore_mm", "exchanger_run_m")
            ),
            *tuple(f"{S}collector.{n}" for n in TUBES),
        ),
        f"{S}loop.geometry.fittings",
        4,
    ),
    "tubes": ("Tubes and groups", (*tuple(f"{S}collector.{n}" for n in TUBES), f"{S}loop.geometry.fittings"), "", 0),
    "loop": (
        "Loop and pump",
        tuple(f"{S}loop.{n}" for n in ("flow_kg_h", "drive.curve", "glycol_percent", "heat_capacity_j_kgk", "pump_w")),
        f"{S}loop.flow_kg_h",
        40,
    ),
    "pipes": (
        "Pipe to the store",
        tuple(
            f"{S}loop.supply_pipe.{n}"
            for n in (
                "length_m",
                "outer_diameter_mm",
                "wall_mm",
                "insulation_mm",
                "insulation_w_mk",
                "outdoors",
                "loss_w_k",
                "contents_l",
            )
        ),
        f"{S}loop.supply_pipe.insulation_mm",
        6,
    ),
    "return": (
        "Pipe to the collectors",
        tuple(
            f"{S}loop.return_pipe.{n}"
            for n in (
                "length_m",
                "outer_diameter_mm",
                "wall_mm",
                "insulation_mm",
                "insulation_w_mk",
                "outdoors",
                "loss_w_k",
                "contents_l",
            )
        ),
        f"{S}loop.return_pipe.insulation_mm",
        6,
    ),
    "control": (
        "Controller",
        tuple(
            f"{S}control.{n}"
            for n in (
                "on_k",
                "off_k",
                "sensor_share",
                "store_limit_c",
                "limit_sensor_share",
                "release_k",
                "collector_limit_c",
                "stop_without_gain",
            )
        ),
        f"{S}control.store_limit_c",
        5,
    ),
    "tankless": (
        "Tankless heater",
        (
            *tuple(
                f"{S}backup.tankless.{n}"
                for n in ("fitted", "power_kw", "efficiency", "burns", "price_kwh", "co2_kg_kwh")
            ),
            "system.tempering_valve",
        ),
        "demand.tap_c",
        2,
    ),
    "element": (
        "Element in the store",
        tuple(
            f"{S}backup.element.{n}"
            for n in (
                "fitted",
                "power_kw",
                "height_share",
                "sensor_share",
                "set_c",
                "hysteresis_k",
                "burns",
                "price_kwh",
                "co2_kg_kwh",
            )
        ),
        f"{S}backup.element.set_c",
        5,
    ),
    "top_element": (
        "Second element",
        tuple(
            f"{S}backup.top_element.{n}" for n in ("power_kw", "height_share", "sensor_share", "set_c", "hysteresis_k")
        ),
        f"{S}backup.top_element.set_c",
        5,
    ),
    "boiler": (
        "Boiler on the top coil",
        tuple(
            f"{S}backup.boiler.{n}"
            for n in (
                "power_kw",
                "height_share",
                "sensor_share",
                "set_c",
                "hysteresis_k",
                "efficiency",
                "burns",
                "price_kwh",
                "co2_kg_kwh",
            )
        ),
        f"{S}backup.boiler.set_c",
        5,
    ),
    "stove": (
        "Wood stove",
        tuple(
            f"{S}backup.stove.{n}"
            for n in (
                "power_kw",
                "room_kw",
                "fired",
                "hot_share",
                "damper_c",
                "circulation",
                "store_above_m",
                "out_share",
                "height_share",
                "pipe_m",
                "bore_mm",
                "rise_mm_m",
                "heat_trap",
                "pump_kg_h",
                "pump_w",
                "efficiency",
                "burns",
                "price_kwh",
                "co2_kg_kwh",
                "counts_as_bought",
            )
        ),
        f"{S}backup.stove.power_kw",
        1,
    ),
    "dump": (
        "Heat dump",
        tuple(f"{S}dump.{n}" for n in ("at", "above_c", "power_kw", "to_rooms", "pump_w", "from_day", "to_day")),
        f"{S}dump.above_c",
        5,
    ),
    "pasteurisation": (
        "Pasteurisation",
        tuple(
            f"{S}backup.pasteurisation.{n}"
            for n in ("every_days", "from_hour", "hours", "target_c", "transfer_pump", "transfer_kg_h")
        ),
        f"{S}backup.pasteurisation.target_c",
        5,
    ),
    "valves": (
        "Valves and safety",
        (f"{S}tempering_valve", f"{S}loop.check_valve", f"{S}store.open_vented", f"{S}store.relief_c"),
        f"{S}store.relief_c",
        10,
    ),
    "season": (
        "Season and valves",
        tuple(
            f"{S}control.{n}"
            for n in (
                "season_from_day",
                "season_to_day",
                "drain_air_c",
                "mode",
                "other_mode",
                "other_from_day",
                "other_to_day",
            )
        ),
        "",
        0,
    ),
    "plane": (
        "Plane",
        ("plane.tilt_deg", "plane.azimuth_deg", "site.ground_reflectance", "site.wind_share", "numerics.sky"),
        "plane.tilt_deg",
        5,
    ),
    "mirror": (
        "Mirror",
        tuple(
            f"plane.mirror.{n}"
            for n in (
                "width_m",
                "depth_m",
                "gap_m",
                "foot_m",
                "tilt_deg",
                "facets",
                "facet_step_deg",
                "reflectance",
                "soiling",
            )
        ),
        "plane.mirror.tilt_deg",
        5,
    ),
    "numerics": (
        "Numerics",
        (
            "numerics.layers",
            "numerics.step_minutes",
            "numerics.inflow",
            "numerics.sky",
            "numerics.first_day",
            f"{S}store.start_c",
        ),
        "numerics.layers",
        10,
    ),
}


BY_PUMP, BY_WEIGHT = ("stove.pump_kg_h", "stove.pump_w"), ("pipe_m", "bore_mm", "rise_mm_m", "store_above_m")
"""Values of a stove that matter only where a pump, or weight, moves its water."""
IN_VESSELS = ("vessels", "diameter_mm", "length_m", "gap_reflects", "volume_l")
"""Values of the water in a collector that a bag, given by its depth, has no use for."""
