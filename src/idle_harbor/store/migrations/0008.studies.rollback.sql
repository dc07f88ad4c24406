DROP TABLE studies;
