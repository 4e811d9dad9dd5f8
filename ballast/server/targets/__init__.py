"""One pressure per axle, put in force."""
