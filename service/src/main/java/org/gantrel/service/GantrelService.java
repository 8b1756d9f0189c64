package org.gantrel.service;

import org.springframework.boot.autoconfigure.SpringBootApplication;

/** The service: what Spring finds from this package down belongs to it. */
@SpringBootApplication
public class GantrelService {}
