"""Constants with their source: rates, link capacities, clock grades, colours of sockets. Imports nothing."""
