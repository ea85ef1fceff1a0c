//! Computations beside the threads that answer requests: bounded in number, fair among clients, cancelled when nobody waits any more.

use std::collections::VecDeque;
use std::sync::{Arc, Mutex, PoisonError};

use axum::http::StatusCode;
use joulethesis_core::cancel::Cancel;
use tokio::sync::oneshot;
use tokio_util::sync::CancellationToken;

use crate::problem::ProblemDocument;

/// Niceness of the threads of long work: a tenth of the share of those that answer and estimate.
const BACKGROUND: i32 = 10;
/// How many may wait at a gate: for one client, and in all.
#[derive(Clone, Copy)]
struct Queue {
    each: usize,
    all: usize,
}

/// Quick work is over in milliseconds, so that even fifty programs behind one address are better made to wait than refused.
const QUICK: Queue = Queue { each: 256, all: 1024 };
const LONG: Queue = Queue { each: 16, all: 512 };

/// Where computations run. Quick work has permits of its own, so that it never waits behind long work.
#[derive(Clone)]
pub(crate) struct Work {
    quick: Gate,
    long: Gate,
    background: Arc<rayon::ThreadPool>,
    stopping: CancellationToken,
}

/// Tells a computation to stop when whoever waits for it goes away.
pub(crate) struct CancelOnDrop(pub(crate) Cancel);

impl Drop for CancelOnDrop {
    fn drop(&mut self) {
        self.0.cancel();
    }
}

fn failed(detail: &str) -> ProblemDocument {
    ProblemDocument::new(StatusCode::INTERNAL_SERVER_ERROR, "Server error", detail)
}

fn stopping() -> ProblemDocument {
    ProblemDocument::new(StatusCode::SERVICE_UNAVAILABLE, "Stopping", "the server is stopping; try again in a moment")
}

impl Work {
    /// As many computations of each sort at once as there are cores.
    ///
    /// # Errors
    /// When the threads cannot be made.
    pub(crate) fn new(stopping: CancellationToken) -> std::io::Result<Self> {
        let cores = std::thread::available_parallelism().map_or(2, std::num::NonZero::get).max(2);
        let background = rayon::ThreadPoolBuilder::new()
            .num_threads(cores)
            .thread_name(|i| format!("background-{i}"))
            // On Linux niceness belongs to the thread. Without it the work is done all the same.
            .start_handler(|_| {
                let _ = rustix::process::nice(BACKGROUND);
            })
            .build()
            .map_err(std::io::Error::other)?;
        Ok(Self { quick: Gate::new(cores, QUICK), long: Gate::new(cores, LONG), background: Arc::new(background), stopping })
    }

    /// What stops all of it.
    pub(crate) fn stopping(&self) -> &CancellationToken {
        &self.stopping
    }

    /// Runs something of milliseconds: an estimate, reading a document.
    pub(crate) async fn quick<T: Send + 'static>(
        &self,
        client: &str,
        work: impl FnOnce(&Cancel) -> T + Send + 'static,
    ) -> Result<T, ProblemDocument> {
        let permit = self.quick.enter(client, &self.stopping).await?;
        self.run(permit, Cancel::new(), work).await
    }

    /// Runs something of seconds at background priority.
    pub(crate) async fn long<T: Send + 'static>(
        &self,
        client: &str,
        work: impl FnOnce(&Cancel) -> T + Send + 'static,
    ) -> Result<T, ProblemDocument> {
        self.long_under(client, Cancel::new(), work).await
    }

    /// As [`Self::long`], with a token that others may cancel too.
    pub(crate) async fn long_under<T: Send + 'static>(
        &self,
        client: &str,
        cancel: Cancel,
        work: impl FnOnce(&Cancel) -> T + Send + 'static,
    ) -> Result<T, ProblemDocument> {
        let permit = self.long.enter(client, &self.stopping).await?;
        let pool = self.background.clone();
        self.run(permit, cancel, move |cancel| pool.install(|| work(cancel))).await
    }

    async fn run<T: Send + 'static>(
        &self,
        permit: Permit,
        cancel: Cancel,
        work: impl FnOnce(&Cancel) -> T + Send + 'static,
    ) -> Result<T, ProblemDocument> {
        let guard = CancelOnDrop(cancel.clone());
        let task = tokio::task::spawn_blocking(move || {
            let result = work(&cancel);
            drop(permit);
            result
        });
        let result = tokio::select! {
            result = task => result,
            () = self.stopping.cancelled() => return Err(stopping()),
        };
        drop(guard);
        result.map_err(|e| {
            tracing::error!(%e, "computation failed");
            failed("the computation failed; the server's log says why")
        })
    }
}

/// A number of permits, handed out to the clients that wait in turn.
#[derive(Clone)]
struct Gate(Arc<Mutex<Waiting>>);

struct Waiting {
    most: Queue,
    free: usize,
    count: usize,
    clients: VecDeque<(String, VecDeque<oneshot::Sender<Permit>>)>,
}

/// Leave to compute; given on when it is dropped.
struct Permit(Option<Gate>);

impl Drop for Permit {
    fn drop(&mut self) {
        if let Some(gate) = self.0.take() {
            gate.leave();
        }
    }
}

impl Gate {
    fn new(permits: usize, most: Queue) -> Self {
        Self(Arc::new(Mutex::new(Waiting { most, free: permits, count: 0, clients: VecDeque::new() })))
    }

    fn lock(&self) -> std::sync::MutexGuard<'_, Waiting> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }

    async fn enter(&self, client: &str, stop: &CancellationToken) -> Result<Permit, ProblemDocument> {
        let turn = {
            let mut waiting = self.lock();
            if waiting.free > 0 {
                waiting.free -= 1;
                return Ok(Permit(Some(self.clone())));
            }
            // Those that no longer wait take no place.
            for (_, queue) in &mut waiting.clients {
                queue.retain(|turn| !turn.is_closed());
            }
            waiting.clients.retain(|(_, queue)| !queue.is_empty());
            waiting.count = waiting.clients.iter().map(|(_, queue)| queue.len()).sum();
            let own = waiting.clients.iter().position(|(name, _)| name == client);
            let (give, turn) = oneshot::channel();
            match own {
                _ if waiting.count >= waiting.most.all => return Err(busy()),
                Some(i) if waiting.clients[i].1.len() >= waiting.most.each => return Err(busy()),
                Some(i) => waiting.clients[i].1.push_back(give),
                None => waiting.clients.push_back((client.to_owned(), VecDeque::from([give]))),
            }
            turn
        };
        tokio::select! {
            permit = turn => permit.map_err(|_| stopping()),
            () = stop.cancelled() => Err(stopping()),
        }
    }

    /// Hands the permit to the next client in turn, or keeps it until one comes.
    fn leave(self) {
        loop {
            let next = {
                let mut waiting = self.lock();
                let Some((client, mut queue)) = waiting.clients.pop_front() else {
                    waiting.free += 1;
                    return;
                };
                let next = queue.pop_front();
                if !queue.is_empty() {
                    waiting.clients.push_back((client, queue));
                }
                next
            };
            let Some(next) = next else { continue };
            match next.send(Permit(Some(self.clone()))) {
                Ok(()) => return,
                // Nobody waits there any more: the permit that came back must not be given on by its own drop.
                Err(mut permit) => permit.0 = None,
            }
        }
    }
}

fn busy() -> ProblemDocument {
    ProblemDocument::new(StatusCode::SERVICE_UNAVAILABLE, "Busy", "too many computations are waiting; try again in a moment")
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
    use std::time::Duration;

    fn work() -> Work {
        Work::new(CancellationToken::new()).expect("threads")
    }

    /// Waits until something has come about. A minute, as a busy machine may leave a test without a turn for seconds.
    async fn soon(what: impl Fn() -> bool) {
        let ended = tokio::time::timeout(Duration::from_secs(60), async {
            while !what() {
                tokio::time::sleep(Duration::from_millis(2)).await;
            }
        });
        ended.await.expect("comes about within a minute");
    }

    #[tokio::test(flavor = "multi_thread")]
    async fn a_client_with_many_waits_in_turn_with_one_that_has_few() {
        let gate = Gate::new(1, LONG);
        let stop = CancellationToken::new();
        let held = gate.enter("greedy", &stop).await.map_err(|_| "refused").expect("free");
        let order = Arc::new(Mutex::new(Vec::new()));
        let mut tasks = Vec::new();
        for (i, client) in ["greedy", "greedy", "greedy", "modest"].into_iter().enumerate() {
            let (own, stop, order) = (gate.clone(), stop.clone(), order.clone());
            tasks.push(tokio::spawn(async move {
                let permit = own.enter(client, &stop).await.map_err(|_| "refused").expect("in turn");
                order.lock().expect("order").push(client);
                drop(permit);
            }));
            // One after the other, so that the order of arrival is known.
            soon(|| gate.lock().clients.iter().map(|c| c.1.len()).sum::<usize>() == i + 1).await;
        }
        drop(held);
        for task in tasks {
            task.await.expect("done");
        }
        assert_eq!(*order.lock().expect("order"), ["greedy", "modest", "greedy", "greedy"]);
        assert_eq!(gate.lock().free, 1);
    }

    #[tokio::test(flavor = "multi_thread")]
    async fn leaving_cancels_and_gives_the_permit_back() {
        let work = work();
        for _ in 0..20 {
            let (begun, stopped) = (Arc::new(AtomicBool::new(false)), Arc::new(AtomicBool::new(false)));
            let (own, begins, stops) = (work.clone(), begun.clone(), stopped.clone());
            let task = tokio::spawn(async move {
                own.long("a", move |cancel| {
                    begins.store(true, Ordering::SeqCst);
                    while !cancel.is_cancelled() {
                        std::thread::sleep(Duration::from_millis(1));
                    }
                    stops.store(true, Ordering::SeqCst);
                })
                .await
            });
            soon(|| begun.load(Ordering::SeqCst)).await;
            task.abort();
            soon(|| stopped.load(Ordering::SeqCst)).await;
        }
        assert_eq!(work.long("b", |_| 7).await.map_err(|p| p.detail), Ok(7));
    }

    #[tokio::test(flavor = "multi_thread")]
    async fn quick_work_does_not_wait_for_long_work() {
        let work = work();
        let release = Arc::new(AtomicBool::new(false));
        let mut long = Vec::new();
        let began = Arc::new(AtomicUsize::new(0));
        let (cores, refused) = (work.long.lock().free, 14);
        for _ in 0..cores + LONG.each + refused {
            let (own, release, began) = (work.clone(), release.clone(), began.clone());
            long.push(tokio::spawn(async move {
                own.long("a", move |_| {
                    began.fetch_add(1, Ordering::SeqCst);
                    while !release.load(Ordering::SeqCst) {
                        std::thread::sleep(Duration::from_millis(1));
                    }
                })
                .await
                .is_ok()
            }));
        }
        // As many run as may, as many wait as may; the rest is refused and over.
        soon(|| began.load(Ordering::SeqCst) == cores && long.iter().filter(|task| task.is_finished()).count() == refused).await;
        assert_eq!(work.quick("a", |_| 1).await.map_err(|p| p.detail), Ok(1));
        release.store(true, Ordering::SeqCst);
        let mut done = 0;
        for task in long {
            done += usize::from(task.await.expect("joined"));
        }
        // Those that ran and those that waited; the rest of one client was refused.
        assert_eq!(done, cores + LONG.each);
    }
}
