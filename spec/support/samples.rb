# frozen_string_literal: true

# Makes up what a call takes from its description, so that each can be made without a word about it here.
module Samples
  module_function

  # @param operation [Yenvo::Web::Contract::Operation]
  # @param number [Integer] what stands for whatever number it takes
  # @return [String] the path with its query
  def path(operation, number)
    filled = operation.path.gsub(/\{(\w+)\}/) { %w[list door].include?($1) ? "launch_roster" : number.to_s }
    query = operation.query.values.select { |one|
      one["required"]
    }.map { |one| "#{one["name"]}=#{value(one["schema"], number)}" }
    query.empty? ? filled : "#{filled}?#{query.join("&")}"
  end

  # @return [Object, nil] a body that fits the description
  def body(operation, number)
    wanted = operation.plain["requestBody"] or return
    wanted = look_up(wanted)
    schema = wanted.dig("content", "application/json", "schema")
    schema && value(schema, number)
  end

  # @param schema [Hash] JSON Schema
  def value(schema, number)
    schema = look_up(schema)
    return schema["enum"].compact.first if schema["enum"]
    return value((schema["oneOf"] || schema["anyOf"]).first, number) if schema["oneOf"] || schema["anyOf"]

    case [*schema["type"]].first
    when "object" then object(schema, number)
    when "array" then [value(schema["items"] || {}, number)]
    when "integer", "number" then number.clamp(schema["minimum"], schema["maximum"])
    when "boolean" then false
    when "string" then %w[deal 2026-12-01 08:00].find { |text| text.match?(Regexp.new(schema["pattern"] || "")) }
    end
  end

  def object(schema, number)
    names = schema["required"] || []
    (schema["properties"] || {}).slice(*names).transform_values { |one| value(one, number) }
  end

  def look_up(plain)
    at = plain["$ref"] or return plain
    Yenvo::Web::Contract::DOCUMENT.dig(*at.delete_prefix("#/").split("/"))
  end
end
