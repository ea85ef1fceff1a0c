//! A database of its own for each test, on the server that `DATABASE_URL` names.

use diesel_async::{AsyncConnection, AsyncPgConnection, SimpleAsyncConnection};

use crate::Store;

/// A migrated, empty database; dropped by [`TestDatabase::drop_database`].
pub struct TestDatabase {
    /// Storage in it.
    pub store: Store,
    /// Its address.
    pub url: String,
    admin_url: String,
    name: String,
}

impl TestDatabase {
    /// Makes a database and brings it to the newest schema.
    ///
    /// # Panics
    /// Without `DATABASE_URL`: run the tests with `make test` or `scripts/with-database.sh cargo test`.
    pub async fn new() -> Self {
        let admin_url = std::env::var("DATABASE_URL").expect("DATABASE_URL; run `make test` or `scripts/with-database.sh cargo test`");
        let name = format!("test_{}", uuid::Uuid::now_v7().simple());
        admin(&admin_url, &format!("CREATE DATABASE {name} STRATEGY FILE_COPY")).await;
        let (base, _) = admin_url.rsplit_once('/').expect("an address with a database");
        let url = format!("{base}/{name}");
        let store = Store::new(&url, 8).expect("a pool");
        store.migrate().await.expect("migrations");
        Self { store, url, admin_url, name }
    }

    /// Runs plain SQL in it.
    ///
    /// # Panics
    /// When the statement fails.
    pub async fn execute(&self, sql: &str) {
        admin(&self.url, sql).await;
    }

    /// Drops it, connections and all.
    ///
    /// # Panics
    /// When the server refuses.
    pub async fn drop_database(&self) {
        // Not by force: that would also end the server's own vacuum, which only a superuser may; without it the server sees to that itself.
        let own =
            format!("SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '{}' AND usename = current_user", self.name);
        admin(&self.admin_url, &own).await;
        admin(&self.admin_url, &format!("DROP DATABASE {}", self.name)).await;
    }
}

async fn admin(url: &str, sql: &str) {
    let mut connection = AsyncPgConnection::establish(url).await.expect("a database server");
    connection.batch_execute(sql).await.expect("the statement");
}
