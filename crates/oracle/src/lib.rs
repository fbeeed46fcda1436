//! Nothing to run: its tests hold our parsers against mature ones of the package registry, which read only our own
//! corpus, never a student's file. A crate of its own, since they take long to build.
