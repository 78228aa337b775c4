-- +goose Up
-- Every row that names another of a workshop is of the same.
ALTER TABLE machine_strikes ADD FOREIGN KEY (workshop_id, class_id) REFERENCES classes (workshop_id, id);
ALTER TABLE project_version_designs ADD FOREIGN KEY (workshop_id, project_id) REFERENCES projects (workshop_id, id);
ALTER TABLE bookings ADD CONSTRAINT bookings_of_a_workshop UNIQUE (workshop_id, id);
ALTER TABLE student_times
    ADD FOREIGN KEY (workshop_id, class_id) REFERENCES classes (workshop_id, id) ON DELETE CASCADE,
    ADD FOREIGN KEY (workshop_id, booking_id) REFERENCES bookings (workshop_id, id) ON DELETE CASCADE;
