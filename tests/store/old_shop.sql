BEGIN TRANSACTION;
CREATE TABLE alembic_version (
	version_num VARCHAR(32) NOT NULL, 
	CONSTRAINT alembic_version_pkc PRIMARY KEY (version_num)
);
INSERT INTO "alembic_version" VALUES('0003');
CREATE TABLE book_row (
	id INTEGER NOT NULL, 
	metal VARCHAR NOT NULL, 
	thickness_mm FLOAT NOT NULL, 
	torch_set_id INTEGER NOT NULL, 
	gas VARCHAR NOT NULL, 
	speed_mm_min FLOAT NOT NULL, 
	arc_voltage_v FLOAT, 
	cut_height_mm FLOAT NOT NULL, 
	pierce_height_mm FLOAT NOT NULL, 
	pierce_delay_s FLOAT NOT NULL, 
	kerf_mm FLOAT NOT NULL, 
	source VARCHAR NOT NULL, 
	example BOOLEAN NOT NULL, 
	superseded_by_id INTEGER, amperage_a FLOAT, shield_gas VARCHAR, gas_pressure_kpa FLOAT, gas_flow_l_min FLOAT, shield_pressure_kpa FLOAT, shield_flow_l_min FLOAT, surface VARCHAR, bed VARCHAR, water_level_mm FLOAT, least_thickness_mm FLOAT, most_thickness_mm FLOAT, 
	PRIMARY KEY (id), 
	FOREIGN KEY(superseded_by_id) REFERENCES book_row (id), 
	FOREIGN KEY(torch_set_id) REFERENCES torch_set (id)
);
INSERT INTO "book_row" VALUES(1,'mild_steel',4.0,1,'air',4300.0,121.0,1.5,3.8,0.2,1.6,'example numbers: use your torch''s manual',1,NULL,70.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(2,'mild_steel',6.0,1,'air',2950.0,125.0,1.5,3.8,0.4,1.7,'example numbers: use your torch''s manual',1,NULL,70.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(3,'mild_steel',10.0,1,'air',1680.0,131.0,1.6,3.8,0.7,1.9,'example numbers: use your torch''s manual',1,NULL,70.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(4,'mild_steel',12.0,1,'air',1290.0,134.0,1.7,4.0,0.9,2.0,'example numbers: use your torch''s manual',1,NULL,70.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(5,'mild_steel',16.0,1,'air',820.0,140.0,1.8,4.5,1.4,2.2,'example numbers: use your torch''s manual',1,NULL,70.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(6,'mild_steel',1.0,2,'air',8800.0,108.0,1.4,3.0,0.0,1.1,'example numbers: use your torch''s manual',1,NULL,45.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(7,'mild_steel',2.0,2,'air',5600.0,112.0,1.4,3.0,0.1,1.2,'example numbers: use your torch''s manual',1,NULL,45.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(8,'mild_steel',4.0,2,'air',2900.0,118.0,1.5,3.2,0.3,1.4,'example numbers: use your torch''s manual',1,NULL,45.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(9,'mild_steel',6.0,2,'air',1650.0,124.0,1.5,3.2,0.5,1.6,'example numbers: use your torch''s manual',1,NULL,45.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(10,'stainless_steel',1.5,2,'air',6400.0,111.0,1.3,3.0,0.1,1.2,'example numbers: use your torch''s manual',1,NULL,45.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(11,'stainless_steel',3.0,2,'air',3500.0,117.0,1.4,3.0,0.3,1.4,'example numbers: use your torch''s manual',1,NULL,45.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(12,'stainless_steel',5.0,2,'air',1850.0,123.0,1.5,3.4,0.5,1.6,'example numbers: use your torch''s manual',1,NULL,45.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(13,'aluminium',4.0,1,'air',5200.0,128.0,1.8,4.0,0.2,1.7,'example numbers: use your torch''s manual',1,NULL,70.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(14,'aluminium',6.0,1,'air',3600.0,133.0,1.9,4.0,0.3,1.9,'example numbers: use your torch''s manual',1,NULL,70.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(15,'aluminium',10.0,1,'air',2100.0,141.0,2.0,4.4,0.6,2.2,'example numbers: use your torch''s manual',1,NULL,70.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(16,'mild_steel',6.0,3,'air',4250.0,131.0,1.9,4.5,0.3,2.0,'example numbers: use your torch''s manual',1,NULL,100.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(17,'mild_steel',10.0,3,'air',2450.0,136.0,2.0,4.5,0.5,2.2,'example numbers: use your torch''s manual',1,NULL,100.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(18,'mild_steel',12.0,3,'air',1960.0,139.0,2.0,5.0,0.6,2.3,'example numbers: use your torch''s manual',1,NULL,100.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(19,'mild_steel',16.0,3,'air',54.0,143.0,2.1,5.0,0.9,2.5,'example numbers: use your torch''s manual',1,NULL,100.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(20,'mild_steel',20.0,3,'air',1020.0,148.0,2.2,5.5,1.2,2.8,'example numbers: use your torch''s manual',1,NULL,100.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(21,'mild_steel',25.0,3,'air',760.0,155.0,2.3,6.0,1.8,3.1,'example numbers: use your torch''s manual',1,NULL,100.0,NULL,550.0,110.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(22,'stainless_steel',1.5,2,'nitrogen',5600.0,118.0,1.4,3.0,0.1,1.3,'example numbers: use your torch''s manual',1,NULL,45.0,NULL,520.0,85.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(23,'stainless_steel',3.0,2,'nitrogen',3100.0,124.0,1.5,3.0,0.3,1.5,'example numbers: use your torch''s manual',1,NULL,45.0,NULL,520.0,85.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
INSERT INTO "book_row" VALUES(24,'stainless_steel',5.0,2,'nitrogen',1600.0,131.0,1.6,3.4,0.5,1.7,'example numbers: use your torch''s manual',1,NULL,45.0,NULL,520.0,85.0,NULL,NULL,NULL,NULL,NULL,NULL,NULL);
CREATE TABLE cut (
	id INTEGER NOT NULL, 
	trial_id INTEGER NOT NULL, 
	number INTEGER NOT NULL, 
	"key" VARCHAR NOT NULL, 
	piece VARCHAR NOT NULL, 
	speed_mm_min FLOAT NOT NULL, 
	cut_height_mm FLOAT NOT NULL, 
	arc_voltage_v FLOAT, 
	set_point_v FLOAT, 
	height_control VARCHAR NOT NULL, 
	starts INTEGER, 
	parts VARCHAR NOT NULL, 
	mount VARCHAR NOT NULL, 
	plate VARCHAR NOT NULL, 
	signal VARCHAR NOT NULL, 
	through VARCHAR, 
	arc_lost BOOLEAN NOT NULL, 
	dross_looked_at BOOLEAN NOT NULL, 
	kerf_mm FLOAT, 
	lag_deg FLOAT, 
	note VARCHAR NOT NULL, 
	logged_at DATETIME NOT NULL, 
	logged_by VARCHAR NOT NULL, 
	struck_out BOOLEAN NOT NULL, 
	version INTEGER NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(trial_id) REFERENCES trial (id), 
	CONSTRAINT logged_once UNIQUE (trial_id, "key"), 
	CONSTRAINT one_number_per_trial UNIQUE (trial_id, number)
);
INSERT INTO "cut" VALUES(1,1,1,'demo-1','square',3500.0,1.4,117.4,NULL,'off',39,'p1','m1','','g1','full',0,1,1.45,5.0,'','2026-11-25 10:56:08.000000','Wren',0,1);
INSERT INTO "cut" VALUES(2,1,2,'demo-2','square',3410.0,1.2,115.7,NULL,'off',40,'p1','m1','','g1','full',0,1,1.46,5.0,'','2026-11-25 10:56:08.000000','Wren',0,1);
INSERT INTO "cut" VALUES(3,2,1,'demo-1','square',2150.0,1.55,127.8,NULL,'off',122,'p1','m1','','g1','full',0,1,1.77,6.0,'','2026-11-25 10:56:08.000000','Wren',0,1);
INSERT INTO "cut" VALUES(4,2,2,'demo-2','square',1970.0,1.3,126.4,NULL,'off',123,'p1','m1','','g1','full',0,1,1.82,4.0,'','2026-11-25 10:56:08.000000','Wren',0,1);
INSERT INTO "cut" VALUES(5,2,3,'demo-3','square',1900.0,1.3,126.3,NULL,'off',124,'p1','m1','','g1','full',0,1,1.84,4.0,'','2026-11-25 10:56:08.000000','Wren',0,1);
INSERT INTO "cut" VALUES(6,4,1,'c1','square',2100.0,1.5,127.6,NULL,'off',121,'nozzle A','m9','offcut 3','g1','full',0,1,1.9,4.0,'','2026-11-25 10:56:09.000000','',0,1);
INSERT INTO "cut" VALUES(7,4,2,'second','square',2100.0,1.5,127.6,NULL,'off',3,'nozzle B','m9','offcut 3','g1','full',0,1,1.9,4.0,'','2026-11-25 10:56:09.000000','',0,1);
INSERT INTO "cut" VALUES(8,2,4,'old-1','square',2100.0,1.5,127.6,NULL,'off',125,'p1','m1','','g1','full',0,1,1.95,6.0,'before the change','2026-11-25 10:56:09.000000','Wren',0,1);
INSERT INTO "cut" VALUES(9,2,5,'old-2','square',2100.0,1.5,127.6,127.0,'off',1,'p2','m1','','g1','full',0,1,1.95,6.0,'after new parts','2026-11-25 10:56:09.000000','Wren',0,1);
INSERT INTO "cut" VALUES(10,4,3,'after-import','square',2100.0,1.5,127.6,NULL,'off',4,'p2','m2','','g1','full',0,1,1.95,6.0,'on imported','2026-11-25 10:56:10.000000','Wren',0,1);
CREATE TABLE cutting_table (
	id INTEGER NOT NULL, 
	name VARCHAR NOT NULL, 
	bed VARCHAR NOT NULL, 
	simulated_seed INTEGER, 
	torch_set_id INTEGER, 
	starts_on_parts INTEGER NOT NULL, 
	parts_series INTEGER NOT NULL, 
	mount_series INTEGER NOT NULL, signal_series INTEGER DEFAULT '1' NOT NULL, settings VARCHAR DEFAULT '{}' NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(torch_set_id) REFERENCES torch_set (id), 
	UNIQUE (name)
);
INSERT INTO "cutting_table" VALUES(1,'North table','water',11,1,4,2,2,1,'{"x_runs":"right","y_runs":"away","home":"near_left","axes_proved":true,"height_control":"voltage","touch_off":"ohmic","delay_origin":"arc_strike","arc_signal":true,"gases":["air"],"starting":"contact","water_level_mm":-60.0,"acceleration_mm_s2":900.0,"fastest_mm_min":12000.0,"extent_x_mm":2500.0,"extent_y_mm":1250.0,"hour_cost":48.0,"air":{"need_l_min":190.0,"delivery_l_min":165.0,"tank_l":200.0,"cut_out_kpa":1000.0,"cut_in_kpa":780.0,"least_kpa":550.0,"flowing_kpa":570.0,"hose_length_m":12.0,"hose_bore_mm":10.0}}');
INSERT INTO "cutting_table" VALUES(2,'South table','downdraft',24,2,40,1,1,1,'{"axes_proved":false,"height_control":"touch_off","touch_off":"float_switch","touch_off_offset_mm":2.4,"gases":["air","nitrogen"],"acceleration_mm_s2":350.0,"fastest_mm_min":9000.0,"air":{}}');
CREATE TABLE dross (
	id INTEGER NOT NULL, 
	cut_id INTEGER NOT NULL, 
	kind VARCHAR NOT NULL, 
	grade INTEGER NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(cut_id) REFERENCES cut (id)
);
INSERT INTO "dross" VALUES(1,6,'low_speed',2);
INSERT INTO "dross" VALUES(2,7,'low_speed',2);
INSERT INTO "dross" VALUES(3,8,'low_speed',1);
INSERT INTO "dross" VALUES(4,8,'top_spatter',3);
INSERT INTO "dross" VALUES(5,9,'low_speed',1);
INSERT INTO "dross" VALUES(6,9,'top_spatter',3);
INSERT INTO "dross" VALUES(7,10,'low_speed',1);
INSERT INTO "dross" VALUES(8,10,'top_spatter',3);
CREATE TABLE edge (
	id INTEGER NOT NULL, 
	cut_id INTEGER NOT NULL, 
	side VARCHAR NOT NULL, 
	heading_deg FLOAT NOT NULL, 
	bevel_deg FLOAT NOT NULL, 
	u_deg FLOAT NOT NULL, 
	method VARCHAR NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(cut_id) REFERENCES cut (id)
);
INSERT INTO "edge" VALUES(1,1,'right',0.0,1.3,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(2,1,'right',90.0,1.0,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(3,1,'right',180.0,1.5,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(4,1,'right',270.0,1.6,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(5,1,'left',0.0,4.9,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(6,2,'right',0.0,-0.7,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(7,2,'right',90.0,0.2,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(8,2,'right',180.0,0.4,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(9,2,'right',270.0,-1.0,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(10,2,'left',0.0,3.2,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(11,3,'right',0.0,2.9,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(12,3,'right',90.0,2.5,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(13,3,'right',180.0,0.7,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(14,3,'right',270.0,1.4,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(15,3,'left',0.0,5.6,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(16,4,'right',0.0,1.3,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(17,4,'right',90.0,0.8,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(18,4,'right',180.0,-0.7,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(19,4,'right',270.0,0.1,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(20,4,'left',0.0,3.9,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(21,5,'right',0.0,0.5,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(22,5,'right',90.0,1.2,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(23,5,'right',180.0,-0.5,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(24,5,'right',270.0,-0.9,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(25,5,'left',0.0,3.2,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(26,6,'right',90.0,2.4,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(27,6,'right',0.0,1.1,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(28,7,'right',90.0,2.4,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(29,7,'right',0.0,1.1,0.4,'angle_gauge');
INSERT INTO "edge" VALUES(30,8,'right',0.0,1.5,0.15,'shop jig');
INSERT INTO "edge" VALUES(31,8,'right',90.0,2.5,0.15,'shop jig');
INSERT INTO "edge" VALUES(32,8,'right',180.0,2.0,0.15,'shop jig');
INSERT INTO "edge" VALUES(33,8,'right',270.0,1.0,0.15,'shop jig');
INSERT INTO "edge" VALUES(34,9,'right',0.0,1.5,0.15,'shop jig');
INSERT INTO "edge" VALUES(35,9,'right',90.0,2.5,0.15,'shop jig');
INSERT INTO "edge" VALUES(36,9,'right',180.0,2.0,0.15,'shop jig');
INSERT INTO "edge" VALUES(37,9,'right',270.0,1.0,0.15,'shop jig');
INSERT INTO "edge" VALUES(38,10,'right',0.0,1.5,0.15,'shop jig');
INSERT INTO "edge" VALUES(39,10,'right',90.0,2.5,0.15,'shop jig');
INSERT INTO "edge" VALUES(40,10,'right',180.0,2.0,0.15,'shop jig');
INSERT INTO "edge" VALUES(41,10,'right',270.0,1.0,0.15,'shop jig');
CREATE TABLE log_draft (
	trial_id INTEGER NOT NULL, 
	body VARCHAR NOT NULL, 
	saved_at DATETIME NOT NULL, 
	PRIMARY KEY (trial_id), 
	FOREIGN KEY(trial_id) REFERENCES trial (id)
);
INSERT INTO "log_draft" VALUES(2,'{"key": "half", "edges": {}, "volts": "127", "dross": null}','2026-11-25 10:56:10.000000');
CREATE TABLE own_part (
	id INTEGER NOT NULL, 
	name VARCHAR NOT NULL, 
	rings VARCHAR NOT NULL, 
	notes VARCHAR NOT NULL, 
	struck_out BOOLEAN NOT NULL, 
	noted_at DATETIME NOT NULL, 
	PRIMARY KEY (id)
);
CREATE TABLE planned_cut (
	id INTEGER NOT NULL, 
	trial_id INTEGER NOT NULL, 
	"key" VARCHAR NOT NULL, 
	number INTEGER NOT NULL, 
	speed_mm_min FLOAT NOT NULL, 
	cut_height_mm FLOAT NOT NULL, 
	parts VARCHAR NOT NULL, 
	mount VARCHAR NOT NULL, 
	signal VARCHAR NOT NULL, 
	starts INTEGER NOT NULL, 
	zone_id INTEGER, 
	cut_at DATETIME NOT NULL, 
	cut_by VARCHAR NOT NULL, 
	struck_out BOOLEAN NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(trial_id) REFERENCES trial (id), 
	FOREIGN KEY(zone_id) REFERENCES plate_zone (id), 
	UNIQUE ("key")
);
INSERT INTO "planned_cut" VALUES(1,2,'ca661df2-bbcb-40d1-a439-e00b19d1ad3b',6,1900.0,1.3,'p2','m2','g1',2,1,'2026-11-25 10:56:10.000000','Wren',0);
INSERT INTO "planned_cut" VALUES(2,2,'36f5a20b-f194-44e3-a692-c1a9cafc0e1b',7,1970.0,1.1,'p2','m2','g1',3,2,'2026-11-25 10:56:10.000000','Wren',0);
INSERT INTO "planned_cut" VALUES(3,2,'53a5458e-af9d-4531-b2f6-722a5f89170b',8,1970.0,1.3,'p2','m2','g1',4,3,'2026-11-25 10:56:10.000000','Wren',1);
CREATE TABLE plate (
	id INTEGER NOT NULL, 
	table_id INTEGER NOT NULL, 
	name VARCHAR NOT NULL, 
	width_mm FLOAT NOT NULL, 
	height_mm FLOAT NOT NULL, 
	margin_mm FLOAT NOT NULL, 
	used_up BOOLEAN NOT NULL, 
	noted_at DATETIME NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(table_id) REFERENCES cutting_table (id)
);
INSERT INTO "plate" VALUES(1,1,'offcut',900.0,600.0,5.0,0,'2026-11-25 10:56:10.000000');
CREATE TABLE plate_zone (
	id INTEGER NOT NULL, 
	plate_id INTEGER NOT NULL, 
	x_mm FLOAT NOT NULL, 
	y_mm FLOAT NOT NULL, 
	width_mm FLOAT NOT NULL, 
	height_mm FLOAT NOT NULL, 
	what VARCHAR NOT NULL, 
	struck_out BOOLEAN NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(plate_id) REFERENCES plate (id)
);
INSERT INTO "plate_zone" VALUES(1,1,5.0,5.0,5.55004524933601715028e+01,82.1570987654321,'trial 2, piece 6',0);
INSERT INTO "plate_zone" VALUES(2,1,6.05004524933601715028e+01,5.0,5.55004524933601715028e+01,6.03989043209876541595e+01,'trial 2, piece 7',0);
INSERT INTO "plate_zone" VALUES(3,1,1.16000904986720343003e+02,5.0,5.55004524933601715028e+01,6.03989043209876541595e+01,'trial 2, piece 8',1);
CREATE TABLE readiness_answer (
	id INTEGER NOT NULL, 
	run_id INTEGER NOT NULL, 
	code VARCHAR NOT NULL, 
	asked VARCHAR NOT NULL, 
	answer VARCHAR NOT NULL, 
	note VARCHAR NOT NULL, 
	starts INTEGER NOT NULL, 
	answered_at DATETIME NOT NULL, 
	answered_by VARCHAR NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(run_id) REFERENCES readiness_run (id), 
	CONSTRAINT one_answer_per_item UNIQUE (run_id, code)
);
CREATE TABLE readiness_rule (
	code VARCHAR NOT NULL, 
	dropped BOOLEAN NOT NULL, 
	period VARCHAR, 
	number INTEGER NOT NULL, 
	ask VARCHAR, 
	if_not VARCHAR, 
	room VARCHAR, 
	PRIMARY KEY (code)
);
CREATE TABLE readiness_run (
	id INTEGER NOT NULL, 
	table_id INTEGER NOT NULL, 
	trial_id INTEGER, 
	begun_at DATETIME NOT NULL, 
	begun_by VARCHAR NOT NULL, 
	done_at DATETIME, 
	skipped VARCHAR NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(table_id) REFERENCES cutting_table (id), 
	FOREIGN KEY(trial_id) REFERENCES trial (id)
);
CREATE TABLE recipe (
	id INTEGER NOT NULL, 
	trial_id INTEGER, 
	line VARCHAR NOT NULL, 
	revision INTEGER NOT NULL, 
	title VARCHAR NOT NULL, 
	locked_at DATETIME NOT NULL, 
	locked_by VARCHAR NOT NULL, 
	body VARCHAR NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(trial_id) REFERENCES trial (id), 
	CONSTRAINT one_revision_per_line UNIQUE (line, revision)
);
INSERT INTO "recipe" VALUES(1,1,'South table / stainless_steel / 3.00 / 45 A sheet set',1,'Gate brackets','2026-11-25 10:56:08.000000','Wren','{"format":"orthotome.recipe","version":1,"title":"Gate brackets","revision":1,"locked_at":"2026-11-25T10:56:08+00:00","locked_by":"Wren","table":"South table","metal":"stainless_steel","thickness_mm":3.0,"torch_set":{"name":"45 A sheet set","amperage_a":45.0,"gas":"air","swirl":"clockwise","starts":null},"setting":{"speed_mm_min":3410.0,"cut_height_mm":1.2,"arc_voltage_v":115.7,"pierce_height_mm":3.0,"pierce_delay_s":0.3,"kerf_mm":1.46},"proof":{"probability_pass":0.994,"passed_cuts":["c2"]},"evidence":{"format":"orthotome.campaign","version":1,"title":"Gate brackets","metal":"stainless_steel","thickness_mm":3.0,"torch_set":{"name":"45 A sheet set","amperage_a":45.0,"gas":"air","swirl":"clockwise","starts":null},"start":{"speed_mm_min":3500.0,"cut_height_mm":1.4,"arc_voltage_v":117.0,"pierce_height_mm":3.0,"pierce_delay_s":0.3,"kerf_mm":1.4},"target":{"bevel_deg":2.5,"sides":"good","dross_grade":1,"priority":"square_first"},"limits":{"speed_mm_min":[2150.0,5400.0],"cut_height_mm":[0.8,2.7]},"cuts":[{"id":"c1","piece":"square","starts":39,"arc_on_s":null,"speed_mm_min":3500.0,"cut_height_mm":1.4,"arc_voltage_v":117.4,"set_point_v":null,"height_control":"off","series":{"parts":"p1","mount":"m1","plate":"","signal":"g1"},"through":"full","arc_lost":false,"edges":[{"side":"right","heading_deg":0.0,"bevel_deg":1.3,"u_deg":0.4,"method":"angle_gauge"},{"side":"right","heading_deg":90.0,"bevel_deg":1.0,"u_deg":0.4,"method":"angle_gauge"},{"side":"right","heading_deg":180.0,"bevel_deg":1.5,"u_deg":0.4,"method":"angle_gauge"},{"side":"right","heading_deg":270.0,"bevel_deg":1.6,"u_deg":0.4,"method":"angle_gauge"},{"side":"left","heading_deg":0.0,"bevel_deg":4.9,"u_deg":0.4,"method":"angle_gauge"}],"dross":[],"kerf_mm":1.45,"lag_deg":5.0},{"id":"c2","piece":"square","starts":40,"arc_on_s":null,"speed_mm_min":3410.0,"cut_height_mm":1.2,"arc_voltage_v":115.7,"set_point_v":null,"height_control":"off","series":{"parts":"p1","mount":"m1","plate":"","signal":"g1"},"through":"full","arc_lost":false,"edges":[{"side":"right","heading_deg":0.0,"bevel_deg":-0.7,"u_deg":0.4,"method":"angle_gauge"},{"side":"right","heading_deg":90.0,"bevel_deg":0.2,"u_deg":0.4,"method":"angle_gauge"},{"side":"right","heading_deg":180.0,"bevel_deg":0.4,"u_deg":0.4,"method":"angle_gauge"},{"side":"right","heading_deg":270.0,"bevel_deg":-1.0,"u_deg":0.4,"method":"angle_gauge"},{"side":"left","heading_deg":0.0,"bevel_deg":3.2,"u_deg":0.4,"method":"angle_gauge"}],"dross":[],"kerf_mm":1.46,"lag_deg":5.0}]}}');
CREATE TABLE set_note (
	id INTEGER NOT NULL, 
	torch_set_id INTEGER NOT NULL, 
	metal VARCHAR NOT NULL, 
	gas VARCHAR NOT NULL, 
	shield_gas VARCHAR NOT NULL, 
	pierce_max_mm FLOAT, 
	edge_start_max_mm FLOAT, 
	sever_max_mm FLOAT, 
	least_mm FLOAT, 
	bevel_deg FLOAT, 
	bottom_dross_grade INTEGER, 
	top_dross_grade INTEGER, 
	colour VARCHAR, 
	rounding VARCHAR, 
	source VARCHAR NOT NULL, 
	example BOOLEAN NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(torch_set_id) REFERENCES torch_set (id), 
	CONSTRAINT one_note_per_process UNIQUE (torch_set_id, metal, gas, shield_gas)
);
INSERT INTO "set_note" VALUES(1,1,'mild_steel','air','',12.0,19.0,25.0,4.0,2.5,1,1,'grey','slight','example numbers: use your torch''s manual',1);
INSERT INTO "set_note" VALUES(2,2,'mild_steel','air','',6.0,10.0,14.0,0.8,2.0,1,0,'grey','slight','example numbers: use your torch''s manual',1);
INSERT INTO "set_note" VALUES(3,3,'mild_steel','air','',20.0,28.0,38.0,6.0,3.0,1,1,'grey','marked','example numbers: use your torch''s manual',1);
INSERT INTO "set_note" VALUES(4,2,'stainless_steel','air','',5.0,8.0,12.0,0.8,3.0,2,1,'grey','slight','example numbers: use your torch''s manual',1);
INSERT INTO "set_note" VALUES(5,2,'stainless_steel','nitrogen','',5.0,8.0,12.0,0.8,2.2,1,1,'silver','slight','example numbers: use your torch''s manual',1);
INSERT INTO "set_note" VALUES(6,1,'aluminium','air','',10.0,16.0,22.0,3.0,3.5,2,1,'grey','marked','example numbers: use your torch''s manual',1);
CREATE TABLE shop (
	id INTEGER NOT NULL, 
	name VARCHAR NOT NULL, 
	length_unit VARCHAR NOT NULL, 
	speed_unit VARCHAR NOT NULL, 
	example BOOLEAN NOT NULL, 
	PRIMARY KEY (id), 
	CONSTRAINT only_one_shop CHECK (id = 1)
);
INSERT INTO "shop" VALUES(1,'Saltmarsh Forge (example shop)','mm','mm/min',1);
CREATE TABLE signal_path (
	id INTEGER NOT NULL, 
	table_id INTEGER NOT NULL, 
	series INTEGER NOT NULL, 
	source_ratio FLOAT NOT NULL, 
	card_ratio FLOAT NOT NULL, 
	multiplier FLOAT NOT NULL, 
	true_v FLOAT, 
	screen_v FLOAT, 
	note VARCHAR NOT NULL, 
	set_at DATETIME NOT NULL, 
	set_by VARCHAR NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(table_id) REFERENCES cutting_table (id)
);
INSERT INTO "signal_path" VALUES(1,1,1,50.0,1.0,50.0,130.0,129.6,'as found','2026-11-25 10:56:06.000000','Wren');
CREATE TABLE table_fact (
	id INTEGER NOT NULL, 
	table_id INTEGER NOT NULL, 
	title VARCHAR NOT NULL, 
	told VARCHAR NOT NULL, 
	photo BLOB, 
	photo_type VARCHAR, 
	struck_out BOOLEAN NOT NULL, 
	noted_at DATETIME NOT NULL, 
	noted_by VARCHAR NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(table_id) REFERENCES cutting_table (id)
);
INSERT INTO "table_fact" VALUES(1,1,'Input card, link 3','Bridged means straight through. The label beside it names the signal it expects, not what it does.',NULL,NULL,0,'2026-11-25 10:56:06.000000','Wren');
CREATE TABLE torch_set (
	id INTEGER NOT NULL, 
	name VARCHAR NOT NULL, 
	amperage_a FLOAT NOT NULL, 
	gas VARCHAR NOT NULL, 
	swirl VARCHAR NOT NULL, 
	example BOOLEAN NOT NULL, parts_cost FLOAT, parts_starts INTEGER, 
	PRIMARY KEY (id), 
	UNIQUE (name)
);
INSERT INTO "torch_set" VALUES(1,'70 A plate set',70.0,'air','clockwise',1,24.0,400);
INSERT INTO "torch_set" VALUES(2,'45 A sheet set',45.0,'air','clockwise',1,18.0,450);
INSERT INTO "torch_set" VALUES(3,'100 A heavy set',100.0,'air','counter_clockwise',1,NULL,NULL);
CREATE TABLE trial (
	id INTEGER NOT NULL, 
	table_id INTEGER NOT NULL, 
	torch_set_id INTEGER NOT NULL, 
	title VARCHAR NOT NULL, 
	metal VARCHAR NOT NULL, 
	thickness_mm FLOAT NOT NULL, 
	speed_mm_min FLOAT NOT NULL, 
	cut_height_mm FLOAT NOT NULL, 
	arc_voltage_v FLOAT, 
	pierce_height_mm FLOAT NOT NULL, 
	pierce_delay_s FLOAT NOT NULL, 
	kerf_mm FLOAT NOT NULL, 
	start_how VARCHAR NOT NULL, 
	start_from VARCHAR NOT NULL, 
	bevel_deg FLOAT NOT NULL, 
	sides VARCHAR NOT NULL, 
	dross_grade INTEGER NOT NULL, 
	priority VARCHAR NOT NULL, 
	speed_low_mm_min FLOAT NOT NULL, 
	speed_high_mm_min FLOAT NOT NULL, 
	height_low_mm FLOAT NOT NULL, 
	height_high_mm FLOAT NOT NULL, 
	opened_at DATETIME NOT NULL, 
	opened_by VARCHAR NOT NULL, 
	set_aside BOOLEAN NOT NULL, 
	on_bench BOOLEAN NOT NULL, 
	revision INTEGER NOT NULL, gas VARCHAR DEFAULT '' NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(table_id) REFERENCES cutting_table (id), 
	FOREIGN KEY(torch_set_id) REFERENCES torch_set (id)
);
INSERT INTO "trial" VALUES(1,2,2,'Gate brackets','stainless_steel',3.0,3500.0,1.4,117.0,3.0,0.3,1.4,'row','{"rows": [{"metal": "stainless_steel", "thickness_mm": 3.0, "source": "example numbers: use your torch''s manual"}], "warnings": ["Chromium VI and nickel in the fume: extraction on, mask as your safety sheet names."]}',2.5,'good',1,'square_first',2150.0,5400.0,0.8,2.7,'2026-11-25 10:56:07.000000','Wren',0,0,4,'');
INSERT INTO "trial" VALUES(2,1,1,'Hopper sides','mild_steel',8.0,2150.0,1.55,128.0,3.8,0.55,1.8,'interpolated','{"rows": [{"metal": "mild_steel", "thickness_mm": 6.0, "source": "example numbers: use your torch''s manual"}, {"metal": "mild_steel", "thickness_mm": 10.0, "source": "example numbers: use your torch''s manual"}], "warnings": []}',1.5,'good',1,'square_first',1350.0,3350.0,0.9,2.9,'2026-11-25 10:56:08.000000','Wren',0,1,10,'');
INSERT INTO "trial" VALUES(3,2,1,'Ramp treads','aluminium',6.0,3600.0,1.9,133.0,4.0,0.3,1.9,'row','{"rows": [{"metal": "aluminium", "thickness_mm": 6.0, "source": "example numbers: use your torch''s manual"}], "warnings": ["Hydrogen gathers under aluminium on a water table and can explode: follow the table''s manual. Keep steel sparks out of aluminium dust."]}',2.5,'good',2,'square_first',2250.0,5600.0,1.0,3.6,'2026-11-25 10:56:08.000000','Wren',0,1,1,'');
INSERT INTO "trial" VALUES(4,1,1,'8 mm mild steel, 70 A plate set','mild_steel',8.0,2100.0,1.5,128.0,3.8,0.5,1.8,'typed','{"rows": [], "warnings": []}',2.0,'good',1,'square_first',1200.0,3400.0,0.8,3.2,'2026-11-25 10:56:09.000000','',0,0,5,'');
CREATE INDEX ix_book_row_metal ON book_row (metal);
CREATE INDEX ix_book_row_torch_set_id ON book_row (torch_set_id);
CREATE INDEX bench_of_table ON trial (table_id, on_bench);
CREATE INDEX ix_trial_table_id ON trial (table_id);
CREATE INDEX ix_recipe_line ON recipe (line);
CREATE INDEX ix_recipe_trial_id ON recipe (trial_id);
CREATE INDEX ix_dross_cut_id ON dross (cut_id);
CREATE INDEX ix_edge_cut_id ON edge (cut_id);
CREATE TRIGGER recipe_refuses_update BEFORE UPDATE ON recipe BEGIN SELECT RAISE(ABORT, 'a locked recipe is never changed'); END;
CREATE TRIGGER recipe_refuses_delete BEFORE DELETE ON recipe BEGIN SELECT RAISE(ABORT, 'a locked recipe is never changed'); END;
CREATE INDEX ix_signal_path_table_id ON signal_path (table_id);
CREATE INDEX ix_table_fact_table_id ON table_fact (table_id);
CREATE INDEX ix_readiness_run_table_id ON readiness_run (table_id);
CREATE INDEX ix_readiness_run_trial_id ON readiness_run (trial_id);
CREATE INDEX ix_readiness_answer_code ON readiness_answer (code);
CREATE INDEX ix_plate_table_id ON plate (table_id);
CREATE INDEX ix_plate_zone_plate_id ON plate_zone (plate_id);
CREATE INDEX ix_planned_cut_trial_id ON planned_cut (trial_id);
COMMIT;
