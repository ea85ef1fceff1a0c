//! What is told of a curve in closed form, against the curve itself.

use super::MotorMap;
use crate::library::{MotorModel, Part, builtin};

/// Whatever surely lies within a curve does, and a voltage from which on a torque is given is where it begins to be: of every motor built in, over
/// all of its speeds and half to twice its voltage.
#[test]
fn what_a_curve_is_told_to_give_it_gives() {
    let (mut within, mut told, mut beyond) = (0, 0, 0);
    for motor in builtin().iter().filter_map(|p| if let Part::Motor(m) = p { Some(m) } else { None }) {
        let map = MotorMap::of(motor, 2);
        let reference_v = motor.reference_voltage_v.unwrap_or(72.0);
        for i in 0..20 {
            let speed = map.max_speed_rad_s * 1.04 * f64::from(i) / 20.0;
            for j in 1..=20 {
                let torque_nm = map.greatest_nm() * 1.05 * f64::from(j) / 20.0;
                let of = || format!("{} at {torque_nm} N m, {speed} rad/s", motor.name);
                for share in [0.5, 0.8, 1.0, 1.3, 2.0] {
                    let holds = map.inside().holds(torque_nm, speed, share * reference_v);
                    let gives = torque_nm <= map.curve_nm(speed, share * reference_v);
                    assert!(gives || !holds, "{}, {} V", of(), share * reference_v);
                    assert_eq!(map.gives(torque_nm, speed, share * reference_v), gives, "{}, {} V", of(), share * reference_v);
                    within += u32::from(holds);
                }
                let Some(from_v) = map.gives_from_v(torque_nm, speed) else { continue };
                if from_v.is_infinite() {
                    assert!(torque_nm * (1.0 + 2e-9) > map.curve_nm(speed, 50.0 * reference_v), "{} at any voltage", of());
                    beyond += 1;
                } else {
                    assert!(torque_nm <= map.curve_nm(speed, from_v * (1.0 + 1e-9) + 1e-9), "{} from {from_v} V on", of());
                    let weakened = matches!(&motor.model, MotorModel::Constants { field_weakening, .. } if *field_weakening > 1.0);
                    assert!(
                        weakened || from_v < 1e-6 || torque_nm > map.curve_nm(speed, from_v * (1.0 - 1e-6)),
                        "{} below {from_v} V",
                        of()
                    );
                    told += 1;
                }
            }
        }
    }
    assert!(within > 10_000 && told > 5_000 && beyond > 500, "{within} within, {told} told, {beyond} beyond");
}
