//! The stand-ins speak the protocols they claim to: a scale's lines and its hand over TCP, transmitters over Modbus TCP, a
//! pot that follows its regulator upwards alone. Read as any client would read them.

use level_keel_core::delivery::{Fluid, FluidLine};
use level_keel_devices::modbus::{self, FAULTS_FROM, Fault, REGISTERS};
use level_keel_devices::plant::Plant;
use level_keel_devices::scale::{self, Made, Scale};
use level_keel_devices::weather::Weather;
use std::time::Duration;
use tokio::io::{AsyncBufReadExt, AsyncWriteExt, BufReader, Lines};
use tokio::net::TcpStream;
use tokio::time::timeout;
use tokio_modbus::client::tcp;
use tokio_modbus::prelude::{ExceptionCode, Reader, Writer};

/// Longer than anything here takes; a device that says nothing fails instead of hanging.
const PATIENCE: Duration = Duration::from_secs(20);

struct Client(Lines<BufReader<TcpStream>>);

impl Client {
    async fn to(address: std::net::SocketAddr) -> Client {
        Client(BufReader::new(TcpStream::connect(address).await.unwrap()).lines())
    }

    /// The next line; `None` where the other side hung up.
    async fn line(&mut self) -> Option<String> {
        timeout(PATIENCE, self.0.next_line()).await.expect("a line in time").ok().flatten()
    }

    /// Says something and takes the answer.
    async fn say(&mut self, said: &str) -> String {
        self.0.get_mut().get_mut().write_all(format!("{said}\n").as_bytes()).await.unwrap();
        self.line().await.expect("an answer")
    }

    /// Reads lines until one ends so.
    async fn until(&mut self, end: &str) -> String {
        loop {
            let line = self.line().await.expect("a line");
            if line.ends_with(end) {
                return line;
            }
        }
    }
}

async fn scale(made: Made) -> (Scale, Client, Client) {
    let scale = scale::serve("127.0.0.1:0", "127.0.0.1:0", Made { lines_s: 200.0, ..made }).await.unwrap();
    let (lines, hand) = (Client::to(scale.address).await, Client::to(scale.hand).await);
    (scale, lines, hand)
}

#[tokio::test]
async fn a_scale_says_what_lies_on_it() {
    let (scale, mut lines, mut hand) = scale(Made::default()).await;
    assert_eq!(lines.until("M=still").await, "W=+00000.0;U=g;M=still");
    assert_eq!(hand.say("put 350.4").await, "W=+00350.0;U=g;M=moving", "whole grams, as it shows");
    assert_eq!(lines.until("W=+00350.0;U=g;M=still").await, "W=+00350.0;U=g;M=still");
    assert_eq!(hand.say("tare").await, "W=+00000.0;U=g;M=moving");
    assert_eq!(hand.say("put 1136").await, "W=+01136.0;U=g;M=moving");
    assert_eq!(hand.say("put -1000").await, "W=+00136.0;U=g;M=moving");
    assert_eq!(hand.say("lose-tare").await, "W=+00486.0;U=g;M=moving", "the cup shows again");
    assert_eq!(hand.say("tare").await, "W=+00000.0;U=g;M=moving");
    assert_eq!(hand.say("take").await, "W=-00486.0;U=g;M=moving", "the cup is gone");
    scale.close().await;
}

/// What is poured comes by and by, moves the pan while it comes, and is all there in the end.
#[tokio::test]
async fn what_is_poured_runs_in() {
    let (scale, mut lines, mut hand) = scale(Made { resolution_g: 0.1, ..Made::default() }).await;
    hand.say("pour 30 60").await;
    let grams = |line: &str| line[2..10].parse::<f64>().unwrap();
    let mut seen = vec![];
    while seen.last() != Some(&30.0) {
        seen.push(grams(&lines.line().await.unwrap()));
    }
    assert!(seen.windows(2).all(|w| w[0] <= w[1]), "it only grows: {seen:?}");
    assert!(seen.iter().any(|g| *g > 1.0 && *g < 29.0), "and not at once: {seen:?}");
    lines.until("W=+00030.0;U=g;M=still").await;
    // More of it comes on top of what still runs.
    hand.say("pour 10 1000").await;
    hand.say("pour 5 1000").await;
    lines.until("W=+00045.0;U=g;M=still").await;
    scale.close().await;
}

#[tokio::test]
async fn a_scale_is_over_shakes_and_is_unplugged_on_demand() {
    let (scale, mut lines, mut hand) = scale(Made { capacity_g: 1000.0, ..Made::default() }).await;
    assert_eq!(hand.say("put 1000").await, "W=+01000.0;U=g;M=moving", "its capacity is not over it");
    assert_eq!(hand.say("put 1").await, "W=OVER;U=g;M=moving");
    assert_eq!(hand.say("put -1").await, "W=+01000.0;U=g;M=moving");
    assert_eq!(hand.say("fault overload").await, "W=OVER;U=g;M=moving");
    hand.say("fault noise").await;
    // Lines that were sent before it began to shake are read first.
    let mut shaken = std::collections::BTreeSet::new();
    while shaken.len() < 8 {
        shaken.insert(lines.line().await.unwrap());
    }
    assert!(shaken.iter().all(|line| line.ends_with("M=moving") || line.starts_with("W=+00000.0")), "{shaken:?}");
    assert_eq!(hand.say("fault none").await, "W=+01000.0;U=g;M=moving");
    hand.say("fault unplugged").await;
    while lines.line().await.is_some() {}
    hand.say("fault none").await;
    assert!(Client::to(scale.address).await.line().await.is_some(), "plugged in again it speaks to who comes anew");
    scale.close().await;
}

#[tokio::test]
async fn the_hand_is_told_what_it_cannot_do() {
    let (scale, _lines, mut hand) = scale(Made::default()).await;
    for (said, answer) in [
        ("put", "a number is missing"),
        ("put much", "much is no number"),
        ("put inf", "inf is no number"),
        ("pour 5 fast", "fast is no number"),
        ("throw 5", "cannot Some(\"throw\")"),
        ("fault fire", "no fault Some(\"fire\")"),
        ("fault", "no fault None"),
        ("", "cannot None"),
        ("rig show", "cannot Some(\"rig\")"),
    ] {
        assert_eq!(hand.say(said).await, answer, "{said:?}");
    }
    assert_eq!(scale.hand("put 5"), Ok(()));
    assert!(scale.hand("put x").is_err());
    assert!(hand.say("show").await.starts_with("W=+00005.0;U=g;M="));
    scale.close().await;
}

/// A scale that drifts a kilogram in a second has moved by now; one that does not stays where it was.
#[tokio::test]
async fn a_scale_drifts_as_it_is_made() {
    let (steady, mut lines, _hand) = scale(Made::default()).await;
    let (drifting, mut wander, _other) = scale(Made { drift_g_h: 3.6e6, ..Made::default() }).await;
    let drifted = wander.until("M=still").await;
    assert!(drifted.starts_with("W=+0") && !drifted.starts_with("W=+00000"), "{drifted}");
    assert_eq!(lines.until("M=still").await, "W=+00000.0;U=g;M=still");
    steady.close().await;
    drifting.close().await;
}

fn celsius(tenths: u16) -> f64 {
    f64::from(tenths.cast_signed()) / 10.0
}

#[tokio::test]
async fn transmitters_answer_over_modbus_and_fail_on_demand() {
    let weather = Weather::new(17);
    let served = modbus::serve("127.0.0.1:0", weather, 9.5, 0.0).await.unwrap();
    let mut client = tcp::connect(served.address).await.unwrap();
    let all = client.read_input_registers(0, REGISTERS as u16).await.unwrap().unwrap();
    for (register, wanted) in weather.at(9.5).into_iter().enumerate() {
        assert!((celsius(all[register]) - wanted).abs() <= 0.051, "register {register}: {} for {wanted}", celsius(all[register]));
    }
    assert_eq!(client.read_holding_registers(0, REGISTERS as u16).await.unwrap().unwrap(), all, "both tables hold the same");
    // Past the last register there is nothing, and what no device has is refused by the protocol's own codes.
    let past = client.read_input_registers(REGISTERS as u16 - 1, 2).await.unwrap();
    assert_eq!(past, Err(ExceptionCode::IllegalDataAddress));
    assert_eq!(client.write_single_register(FAULTS_FROM, 9).await.unwrap(), Err(ExceptionCode::IllegalDataValue));
    assert_eq!(client.write_single_register(FAULTS_FROM - 1, 1).await.unwrap(), Err(ExceptionCode::IllegalDataAddress));
    let beyond = FAULTS_FROM + REGISTERS as u16;
    assert_eq!(client.write_single_register(beyond, 1).await.unwrap(), Err(ExceptionCode::IllegalDataAddress));
    assert_eq!(client.read_coils(0, 1).await.unwrap(), Err(ExceptionCode::IllegalFunction));
    // Each fault by its number; a silent probe is one that its gateway does not reach, and the others still answer.
    for (number, fault) in [(0, Some(Fault::None)), (2, Some(Fault::Silent)), (5, None)] {
        assert_eq!(Fault::from_number(number), fault);
    }
    client.write_single_register(FAULTS_FROM, 3).await.unwrap().unwrap();
    let leapt = client.read_input_registers(0, 1).await.unwrap().unwrap()[0];
    assert!((celsius(leapt) - celsius(all[0]) - 25.0).abs() <= 0.11, "{}", celsius(leapt));
    client.write_single_register(FAULTS_FROM, 4).await.unwrap().unwrap();
    assert_eq!(client.read_input_registers(0, 1).await.unwrap().unwrap(), [0x7FFF]);
    client.write_single_register(FAULTS_FROM, 1).await.unwrap().unwrap();
    assert_eq!(client.read_input_registers(0, 1).await.unwrap().unwrap(), all[..1]);
    served.fault(0, Fault::Silent);
    assert_eq!(client.read_input_registers(0, 1).await.unwrap(), Err(ExceptionCode::GatewayTargetDevice));
    assert_eq!(client.read_input_registers(1, 5).await.unwrap().unwrap(), all[1..6]);
    served.stop().await;
}

/// The same seed and hour give the same weather; another day is another; steel is colder than the air before dawn.
#[test]
fn weather_is_repeated_by_its_seed() {
    let days = |seed: u64| (0..48).map(|half| Weather::new(seed).at(f64::from(half) / 2.0)).collect::<Vec<_>>();
    assert_eq!(days(17), days(17));
    assert_ne!(days(17), days(18));
    assert_ne!(Weather::new(17).at(12.0), Weather::new(17).at(36.0));
    for [air, humidity, surface, material, store, cabinet] in days(17) {
        for c in [air, surface, material, store, cabinet] {
            assert!((10.0..30.0).contains(&c), "{c} °C is no mild day");
        }
        assert!((40.0..85.0).contains(&humidity), "{humidity} %");
    }
    let [air, _, surface, ..] = Weather::new(17).at(3.0);
    assert!(surface < air, "steel at {surface} °C under air of {air} °C before dawn");
}

const LINE: FluidLine = FluidLine { hose_bore_mm: 9.525, hose_length_mm: 7620.0, lift_mm: 500.0, nozzle_mm: 1.8 };
const PAINT: Fluid = Fluid { viscosity_mpa_s: 130.0, density_kg_l: 1.33, flow_index: 1.0 };

/// Reads the pot until it stands so; a pot that never gets there fails.
fn pot_until(plant: &Plant, stands: impl Fn(f64) -> bool) -> f64 {
    let began = std::time::Instant::now();
    loop {
        let (pot, gun) = plant.read();
        if stands(pot) {
            return pot;
        }
        assert!(began.elapsed() < PATIENCE, "still at {pot} and {gun} kPa");
        std::thread::yield_now();
    }
}

/// A pot follows its regulator upwards, never downwards: it is vented, or paint leaves it; its relief opens at its plate.
#[test]
fn a_pot_rises_by_its_regulator_and_falls_by_its_vent() {
    let plant = Plant::new(LINE, PAINT, 300.0);
    assert_eq!(plant.read(), (0.0, 0.0));
    plant.hand("set 1 bar").unwrap();
    pot_until(&plant, |pot| pot > 99.999);
    // At rest the gun hangs half a metre above it: 1.33 kg/L · 9.80665 m/s² · 0.5 m = 6.52 kPa, worked by hand.
    let (pot, gun) = plant.read();
    assert!((pot - gun - 6.52).abs() < 0.01, "{pot} {gun}");
    plant.hand("set 20 kPa").unwrap();
    assert!(plant.read().0 > 99.9, "backing it off takes nothing out of the pot");
    plant.hand("vent").unwrap();
    // It hisses away what the regulator still gives, so a quarter of that stays.
    let low = pot_until(&plant, |pot| pot < 5.5);
    assert!(low >= 5.0, "{low}");
    plant.hand("shut").unwrap();
    pot_until(&plant, |pot| pot > 19.0);
    plant.hand("set 900 kPa").unwrap();
    assert_eq!(pot_until(&plant, |pot| pot >= 300.0), 300.0, "the relief lets nothing over its plate");
}

/// While paint flows the line takes its share: core's own physics says which.
#[test]
fn a_trigger_pulled_costs_what_the_line_takes() {
    let plant = Plant::new(LINE, PAINT, 300.0);
    plant.hand("set 100 kPa").unwrap();
    pot_until(&plant, |pot| pot > 99.999);
    let (_, at_rest) = plant.read();
    plant.hand("trigger").unwrap();
    let (pot, flowing) = plant.read();
    assert!((flowing - LINE.at(&PAINT, pot).nozzle_kpa).abs() < 0.1, "{flowing}");
    assert!(flowing < at_rest - 1.0, "{flowing} of {at_rest} kPa");
    plant.hand("release").unwrap();
    assert!((plant.read().1 - at_rest).abs() < 0.5);
}

#[test]
fn the_hand_at_the_pot_is_told_what_it_cannot_do() {
    let plant = Plant::demo();
    for (said, words) in [
        ("set -5 kPa", "is no pressure for a pot"),
        ("set 2000 kPa", "is no pressure for a pot"),
        ("trigger hard", "cannot trigger"),
        ("open", "cannot open"),
        ("", "cannot "),
    ] {
        let refused = plant.hand(said).expect_err(said);
        assert!(refused.contains(words), "{said}: {refused}");
    }
    for said in ["set", "set much", "set 10 m"] {
        plant.hand(said).expect_err(said);
    }
    assert_eq!(plant.hand("show").unwrap(), "pot 0.0 kPa, gun 0.0 kPa, set 0.0 kPa", "nothing of it was done");
    assert!(plant.hand("set 10 psi").unwrap().ends_with("set 68.9 kPa"));
}

/// The film gauge: a beat while it is on, a line for each press, and what is wrong with it on demand.
#[tokio::test]
async fn the_film_gauge_sends_what_it_reads() {
    use level_keel_core::acceptance::indicator::{GaugeGrammar, GaugeLine, OWN_PATTERN};
    use tokio::io::{AsyncBufReadExt, BufReader};
    let gauge = level_keel_devices::film_gauge::serve("127.0.0.1:0", 17).await.unwrap();
    let grammar = GaugeGrammar::new(OWN_PATTERN, None).unwrap();
    let stream = tokio::net::TcpStream::connect(gauge.address).await.unwrap();
    let mut lines = BufReader::new(stream).lines();
    let mut next = async || grammar.read(lines.next_line().await.unwrap().unwrap().as_bytes());
    assert_eq!(next().await, Some(GaugeLine::Alive), "it says that it is there");
    let mut press = async |said: &[&str]| {
        for words in said {
            gauge.hand(words).unwrap();
        }
        gauge.hand("press").unwrap();
        loop {
            if let Some(GaugeLine::Read { um }) = next().await {
                return um;
            }
        }
    };
    let plain = press(&["on 120"]).await;
    assert!((plain - 120.0).abs() <= 1.3, "{plain}");
    let drifted = press(&["drift 10"]).await;
    assert!((drifted - 132.0).abs() <= 1.3, "{drifted}");
    // In mil it says its unit, and is read as the same film.
    let in_mil = press(&["drift 0", "unit mil"]).await;
    assert!((in_mil - 120.0).abs() <= 1.4, "{in_mil}");
    let stuck = press(&["unit um", "fault stuck", "on 300"]).await;
    assert!(stuck < 200.0, "it reads what it read last: {stuck}");
    gauge.hand("fault unplugged").unwrap();
    assert!(gauge.hand("press").is_err() && gauge.hand("on").is_err() && gauge.hand("unit furlong").is_err());
    while lines.next_line().await.unwrap().is_some() {}
    gauge.close();
}
