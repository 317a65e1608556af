package dev.fiesta.parquet;

import org.apache.parquet.column.ColumnDescriptor;
import org.apache.parquet.column.Dictionary;
import org.apache.parquet.column.values.ValuesReader;
import org.apache.parquet.io.api.Binary;

/** Values as the file holds them, one after another. */
interface ParquetRaw {
    /** Steps to the next value. */
    ParquetRaw next();

    int whole32();

    long whole64();

    float single();

    double real();

    boolean truth();

    Binary bytes();

    /** The values of a dictionary, by their numbers. */
    final class OfDictionary implements ParquetRaw {
        private final Dictionary dictionary;
        private int id = -1;

        OfDictionary(Dictionary dictionary) {
            this.dictionary = dictionary;
        }

        @Override
        public ParquetRaw next() {
            id++;
            return this;
        }

        @Override
        public int whole32() {
            return dictionary.decodeToInt(id);
        }

        @Override
        public long whole64() {
            return dictionary.decodeToLong(id);
        }

        @Override
        public float single() {
            return dictionary.decodeToFloat(id);
        }

        @Override
        public double real() {
            return dictionary.decodeToDouble(id);
        }

        @Override
        public boolean truth() {
            return dictionary.decodeToBoolean(id);
        }

        @Override
        public Binary bytes() {
            return dictionary.decodeToBinary(id);
        }
    }

    /** The values of a page; each is asked for once. */
    record OfPage(ValuesReader reader, ColumnDescriptor column) implements ParquetRaw {
        @Override
        public ParquetRaw next() {
            return this;
        }

        @Override
        public int whole32() {
            return reader.readInteger();
        }

        @Override
        public long whole64() {
            return reader.readLong();
        }

        @Override
        public float single() {
            return reader.readFloat();
        }

        @Override
        public double real() {
            return reader.readDouble();
        }

        @Override
        public boolean truth() {
            return reader.readBoolean();
        }

        @Override
        public Binary bytes() {
            return reader.readBytes();
        }
    }
}
