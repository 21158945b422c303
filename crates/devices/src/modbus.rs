//! The readings over Modbus TCP, and faults on demand.

use crate::plant::Plant;
use crate::weather::{self, Weather};
use std::future::{self, Future};
use std::net::SocketAddr;
use std::pin::Pin;
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Instant;
use tokio::net::TcpListener;
use tokio::task::JoinHandle;
use tokio_modbus::prelude::{ExceptionCode, Request, Response};
use tokio_modbus::server::Service;
use tokio_modbus::server::tcp::{Server, accept_tcp_connection};

/// Registers that are sent: the weather, then pot and gun.
pub const REGISTERS: usize = weather::REGISTERS + 2;

/// Holding registers from here on set the fault of a probe.
pub const FAULTS_FROM: u16 = 100;

/// What is wrong with a probe.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Fault {
    /// Nothing.
    #[default]
    None,
    /// It sends the value it had.
    Stuck,
    /// It does not answer.
    Silent,
    /// It sends a value far off.
    Leap,
    /// It sends a value no place has.
    Nonsense,
}

impl Fault {
    /// From the number written to a fault register.
    pub fn from_number(number: u16) -> Option<Fault> {
        Some(match number {
            0 => Fault::None,
            1 => Fault::Stuck,
            2 => Fault::Silent,
            3 => Fault::Leap,
            4 => Fault::Nonsense,
            _ => return None,
        })
    }
}

#[derive(Clone)]
struct Device(Arc<Mutex<Inner>>);

struct Inner {
    weather: Weather,
    plant: Plant,
    started: Instant,
    from_hour: f64,
    /// Hours of weather in a real second.
    hours_a_second: f64,
    faults: [Fault; REGISTERS],
    stuck: [f64; REGISTERS],
}

impl Inner {
    fn readings(&self) -> [f64; REGISTERS] {
        let hour = self.from_hour + self.started.elapsed().as_secs_f64() * self.hours_a_second;
        let [air, humidity, surface, material, store, cabinet] = self.weather.at(hour);
        let (pot, gun) = self.plant.read();
        [air, humidity, surface, material, store, cabinet, pot, gun]
    }

    /// Tenths of every register, or none where a probe does not answer.
    fn registers(&self) -> [Option<u16>; REGISTERS] {
        let now = self.readings();
        std::array::from_fn(|i| match self.faults[i] {
            Fault::None => Some(tenths(now[i])),
            Fault::Stuck => Some(tenths(self.stuck[i])),
            Fault::Silent => None,
            Fault::Leap => Some(tenths(now[i] + 25.0)),
            Fault::Nonsense => Some(0x7FFF),
        })
    }
}

fn tenths(value: f64) -> u16 {
    ((value * 10.0).round() as i16).cast_unsigned()
}

impl Device {
    fn lock(&self) -> std::sync::MutexGuard<'_, Inner> {
        // Values are put in whole; nothing half done can lie here.
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn read(&self, from: u16, count: u16) -> Result<Vec<u16>, ExceptionCode> {
        let registers = self.lock().registers();
        let range = usize::from(from)..usize::from(from) + usize::from(count);
        let asked = registers.get(range).ok_or(ExceptionCode::IllegalDataAddress)?;
        asked.iter().map(|r| r.ok_or(ExceptionCode::GatewayTargetDevice)).collect()
    }

    fn write(&self, register: u16, number: u16) -> Result<(), ExceptionCode> {
        let index = usize::from(register.checked_sub(FAULTS_FROM).ok_or(ExceptionCode::IllegalDataAddress)?);
        let fault = Fault::from_number(number).ok_or(ExceptionCode::IllegalDataValue)?;
        let mut inner = self.lock();
        let now = inner.readings();
        *inner.faults.get_mut(index).ok_or(ExceptionCode::IllegalDataAddress)? = fault;
        inner.stuck[index] = now[index];
        Ok(())
    }
}

impl Service for Device {
    type Request = Request<'static>;
    type Response = Response;
    type Exception = ExceptionCode;
    type Future = future::Ready<Result<Response, ExceptionCode>>;

    fn call(&self, request: Self::Request) -> Self::Future {
        future::ready(match request {
            Request::ReadInputRegisters(from, count) => self.read(from, count).map(Response::ReadInputRegisters),
            Request::ReadHoldingRegisters(from, count) => self.read(from, count).map(Response::ReadHoldingRegisters),
            Request::WriteSingleRegister(register, number) => {
                self.write(register, number).map(|()| Response::WriteSingleRegister(register, number))
            }
            _ => Err(ExceptionCode::IllegalFunction),
        })
    }
}

/// A transmitter that is served.
pub struct Served {
    /// Where.
    pub address: SocketAddr,
    device: Device,
    task: JoinHandle<()>,
}

impl Served {
    /// Gives a probe a fault.
    pub fn fault(&self, register: usize, fault: Fault) {
        let mut inner = self.device.lock();
        let now = inner.readings();
        inner.faults[register] = fault;
        inner.stuck[register] = now[register];
    }

    /// The pot whose gauges are read.
    pub fn plant(&self) -> Plant {
        self.device.lock().plant.clone()
    }

    /// Stops answering.
    pub async fn stop(self) {
        self.task.abort();
        let _ = self.task.await;
    }

    /// Serves until the process ends.
    pub async fn forever(self) {
        let _ = self.task.await;
    }
}

type Connected = Result<Option<(Device, tokio::net::TcpStream)>, std::io::Error>;

/// Serves weather at an address, beginning at an hour of the day.
pub async fn serve(address: &str, weather: Weather, from_hour: f64, hours_a_second: f64) -> std::io::Result<Served> {
    let listener = TcpListener::bind(address).await?;
    let address = listener.local_addr()?;
    let inner = Inner {
        weather,
        plant: Plant::demo(),
        started: Instant::now(),
        from_hour,
        hours_a_second,
        faults: [Fault::None; REGISTERS],
        stuck: [0.0; REGISTERS],
    };
    let device = Device(Arc::new(Mutex::new(inner)));
    let answering = device.clone();
    let task = tokio::spawn(async move {
        let connected = |stream, from| -> Pin<Box<dyn Future<Output = Connected> + Send>> {
            let device = answering.clone();
            Box::pin(async move { accept_tcp_connection(stream, from, |_| Ok(Some(device.clone()))) })
        };
        // A connection that breaks ends itself; only the listener's own end ends the task.
        let _ = Server::new(listener).serve(&connected, |e| eprintln!("a connection ended: {e}")).await;
    });
    Ok(Served { address, device, task })
}
