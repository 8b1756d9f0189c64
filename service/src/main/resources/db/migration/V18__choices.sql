-- How somebody likes things to be shown, wherever they sign in.
create table person_choice (
    person varchar(60) not null,
    name varchar(80) not null,
    chosen varchar(2000) not null,
    primary key (person, name)
);
