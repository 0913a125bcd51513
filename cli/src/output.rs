//! Files that are written whole or not at all.
//!
//! An output is opened, beside its place and under another name, before any work is done; it takes
//! its place in one step when it is complete. Whatever fails before that leaves the old file alone.

use std::fs::File;
use std::io::{BufWriter, Write};
use std::path::{Path, PathBuf};

use anyhow::{Context, Result};
use tempfile::TempPath;

/// A file that will take its place when it is complete.
#[derive(Debug)]
pub(crate) struct Output {
    place: PathBuf,
    file: BufWriter<File>,
    /// Where the file is until then; whatever is dropped unfinished is taken away.
    draft: TempPath,
}

impl Output {
    /// Opens a draft in the folder of `place`.
    ///
    /// # Errors
    /// When the folder is missing or cannot be written, or `place` is a folder, a device or a pipe.
    pub(crate) fn open(place: &Path) -> Result<Self> {
        let name = place.display();
        anyhow::ensure!(!place.is_dir(), "cannot write {name}: it is a folder; name a file in it");
        let other = place.exists() && !place.is_file();
        anyhow::ensure!(!other, "cannot write {name}: it is a device or a pipe, which a file would replace");
        let folder = place.parent().filter(|folder| !folder.as_os_str().is_empty()).unwrap_or(Path::new("."));
        let draft = tempfile::Builder::new()
            .prefix(".ambulant-")
            .tempfile_in(folder)
            .with_context(|| format!("cannot write {name}: no file can be made in {}", folder.display()))?;
        let (file, draft) = draft.into_parts();
        Ok(Self { place: place.to_owned(), file: BufWriter::new(file), draft })
    }

    /// Writes some bytes.
    ///
    /// # Errors
    /// When the disk is full or gone; the error names the file.
    pub(crate) fn put(&mut self, bytes: &[u8]) -> Result<()> {
        Ok(self.write_all(bytes)?)
    }

    /// Puts the finished file in its place.
    ///
    /// # Errors
    /// When the rest cannot be written or the file cannot be moved.
    pub(crate) fn finish(self) -> Result<()> {
        let name = self.place.display().to_string();
        let written = self.file.into_inner().map_err(std::io::IntoInnerError::into_error);
        written.with_context(|| format!("cannot write {name}"))?;
        share(&self.draft).with_context(|| format!("cannot write {name}"))?;
        self.draft.persist(&self.place).with_context(|| format!("cannot write {name}"))?;
        Ok(())
    }
}

impl Write for Output {
    fn write(&mut self, bytes: &[u8]) -> std::io::Result<usize> {
        self.file.write(bytes).map_err(|error| named(&self.place, &error))
    }

    fn flush(&mut self) -> std::io::Result<()> {
        self.file.flush().map_err(|error| named(&self.place, &error))
    }
}

/// The same failure, with the name of the file that is not written.
fn named(place: &Path, error: &std::io::Error) -> std::io::Error {
    std::io::Error::new(error.kind(), format!("cannot write {}: {error}", place.display()))
}

/// Drafts are made readable by their owner only; a finished file is as readable as any other.
#[cfg(unix)]
fn share(path: &Path) -> std::io::Result<()> {
    use std::os::unix::fs::PermissionsExt;
    std::fs::set_permissions(path, std::fs::Permissions::from_mode(0o644))
}

#[cfg(not(unix))]
fn share(_: &Path) -> std::io::Result<()> {
    Ok(())
}
